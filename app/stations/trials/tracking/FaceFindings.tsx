import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { exchangedSides } from "~core/tracking/channelMap";
import type { TrackingFinding } from "~core/tracking/faceReadings";
import { useSession } from "../../../session/session";
import { useQueryState } from "../../../ui/useQueryState";
import { useFaceInHand, type FaceInHand } from "./faceInHand";

const MARK = { error: ["▲", "var(--brick)"], warn: ["◆", "var(--amber)"], note: ["·", "var(--muted)"] } as const;
/** Notes that are shown before more is asked for. */
const FEW = 3;

/** What stands out in a face as it is tracked, worst first, each with what to do. */
export function FaceFindings(): ReactNode {
  const readings = useSession((s) => s.faceReadings);
  const face = useFaceInHand();
  const [all, setAll] = useQueryState<"" | "all">("notes", "");
  if (!readings || !face) return null;
  const grave = readings.findings.filter((f) => f.severity !== "note");
  const notes = readings.findings.filter((f) => f.severity === "note");
  const shown = [...grave, ...(all ? notes : notes.slice(0, Math.max(0, FEW - grave.length)))];
  const more = readings.findings.length - shown.length;
  return (
    <div className="p-4-18-12" role="group" aria-label="What stands out">
      {shown.map((f) => (
        <Finding key={`${f.check} ${f.channel} ${f.shape}`} finding={f} face={face} />
      ))}
      {(more > 0 || all) && (
        <Button size="small" onClick={() => setAll(all ? "" : "all")}>
          {all ? "Fewer" : `${more} more`}
        </Button>
      )}
    </div>
  );
}

function Finding({ finding: f, face }: { finding: TrackingFinding; face: FaceInHand }): ReactNode {
  const character = useSession((s) => s.loaded?.character ?? null);
  const [mark, color] = MARK[f.severity];
  return (
    <div className="t-small mb-4">
      <span style={{ color }} aria-hidden>
        {mark}
      </span>{" "}
      {f.message} {f.check !== "tracking.sides" && <span className="muted">{f.todo}</span>}
      {f.check === "tracking.sides" && character && (
        <Button size="small" onClick={() => face.setMap(exchangedSides(face.settings.map, character))}>
          Exchange left and right
        </Button>
      )}
    </div>
  );
}
