import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { clipSeconds } from "~core/clips/motion";
import type { Clip } from "~core/model/character";
import { clipPiece, endOf, laneOfClip, trialSeconds, type Trial } from "~core/trials/trial";
import { useSessionStore } from "../../../session/session";
import { addPiece } from "../../../session/slices/trial";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { FitClip } from "./FitClip";
import { SaveClip } from "./SaveClip";

/** One clip of the character: its length and how it stands; open, how it is fitted to the figure. */
export function ClipRow({ clip, open, onOpen }: { clip: Clip; open: boolean; onOpen: () => void }): ReactNode {
  const store = useSessionStore();
  const seconds = clipSeconds(clip);
  const add = (): void => {
    const { trial } = store.getState();
    if (trial)
      addPiece(store, laneOfClip(clip), clipPiece(clip.name, seconds, startOf(clip, trial), crypto.randomUUID()));
  };
  return (
    <div className={`row${open ? " open" : ""}`}>
      <div className="row-line">
        <button
          type="button"
          className="plain take-rest nowrap over-hidden ellipsis"
          aria-expanded={open}
          onClick={onOpen}>
          {clip.name}
          {clip.fit && <span className="muted"> · fitted</span>}
        </button>
        <span className="mono muted nowrap">{seconds.toFixed(2)} s</span>
        <Button
          title={clip.tracks.length ? "Puts it at the end of the body lane" : "Puts it at the end of the face lane"}
          onClick={add}>
          Onto the ruler
        </Button>
      </div>
      {open && (clip.tracks.length ? <FitClip clip={clip} /> : <FaceOnly clip={clip} />)}
    </div>
  );
}

/** What moves the body goes on where the trial ends; a face goes over what plays. */
const startOf = (clip: Clip, trial: Trial): number =>
  clip.tracks.length ? trialSeconds(trial) : trial.lanes.face.reduce((end, p) => Math.max(end, endOf(p)), 0);

/** A clip that moves shapes alone: there is nothing to fit. */
function FaceOnly({ clip }: { clip: Clip }): ReactNode {
  const { addStep } = useDesk();
  const moved = clip.weights ?? [];
  return (
    <div className="row-body t-small">
      <p>
        Moves {counted(moved.length, "shapes")} and no joint:{" "}
        {moved
          .slice(0, 6)
          .map((w) => w.shape)
          .join(", ")}
        {moved.length > 6 ? " and others" : ""}.
      </p>
      <SaveClip clip={clip} />
      <Button onClick={() => void addStep({ op: "remove clips", names: [clip.name] })}>Remove</Button>
    </div>
  );
}
