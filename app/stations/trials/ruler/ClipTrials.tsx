import { useEffect, type ReactNode } from "react";
import { useSession } from "../../../session/session";
import { useCharacterPage } from "../../../session/useDesk";
import { useQueryState } from "../../../ui/useQueryState";
import { AddThings } from "../../AddThings";
import { BeforeAfter } from "./BeforeAfter";
import { ClipRow } from "./ClipRow";
import { KeysPanel } from "./KeysPanel";
import { MissingClips } from "./MissingClips";
import { MomentList } from "./MomentList";
import { PieceRow } from "./PieceRow";
import { RulerSheet } from "./RulerSheet";
import type { Watching } from "./useWatch";

/** Clips and keys on the ruler: played, fitted, and every frame measured. */
export const ClipTrials = ({ leaves }: { leaves: ReactNode }): ReactNode => (
  <RulerSheet leaves={leaves}>{(watching) => <Clips {...watching} />}</RulerSheet>
);

function Clips({ running, watch, watched, moments }: Watching): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const [open, setOpen] = useQueryState<string>("open", "");
  const [again, setAgain] = useQueryState<string>("again", "");
  const { ledger } = useCharacterPage();
  // a step may just have been made: what is measured is the state after it
  const due = again !== "" && loaded?.state === ledger.state && trial !== null && !running;
  useEffect(() => {
    if (!due) return;
    setAgain("");
    void watch();
  }, [due, setAgain, watch]);
  const clips = loaded?.character.clips ?? [];
  return (
    <>
      <MissingClips />
      <PieceRow />
      {!loaded && <p className="muted p-8-18">Fetching the character</p>}
      {loaded && trial && <BeforeAfter watched={watched} moments={moments} />}
      {watched && moments.length > 0 && <h2 className="group-title">Moments, worst first</h2>}
      <MomentList moments={moments} />
      {loaded && <h2 className="group-title">Clips</h2>}
      {loaded && clips.length === 0 && (
        <p className="p-0-18">No clip yet: drop BVH or GLB files below; whatever skeleton they were made for.</p>
      )}
      {clips.map((c) => (
        <ClipRow key={c.name} clip={c} open={open === c.name} onOpen={() => setOpen(open === c.name ? "" : c.name)} />
      ))}
      <KeysPanel />
      <div className="p-8-18">
        <AddThings
          title="More clips"
          words="BVH, or GLB with its own figure, for any skeleton, any number at once: joints, unit, axes and rest are found and told before they are taken. A TextGrid with phones is spoken by the visemes, lips measured shut at p, b, m."
        />
      </div>
    </>
  );
}
