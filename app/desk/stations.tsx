import type { ReactNode } from "react";
import type { StationState } from "~server/services/characters";
import { counted } from "../ui/counted";

const open = (count: number): ReactNode =>
  count > 0 ? (
    <span className="badge" title={counted(count, "open findings")}>
      {count}
    </span>
  ) : (
    <span className="badge ok" title="No open finding">
      ✓
    </span>
  );

/** The route: six stations in working order, each with its count of open findings or a tick. */
export const STATIONS: readonly {
  readonly path: string;
  readonly name: string;
  readonly badge: (s: StationState) => ReactNode;
}[] = [
  { path: "intake", name: "Intake", badge: (s) => open(s.intake) },
  { path: "skeleton", name: "Skeleton", badge: (s) => open(s.skeleton) },
  { path: "shapes", name: "Shapes", badge: (s) => open(s.shapes) },
  {
    path: "correctives",
    name: "Correctives",
    badge: (s) =>
      s.correctives > 0 ? (
        <span className="badge quiet" title={counted(s.correctives, "correctives")}>
          {s.correctives}
        </span>
      ) : null,
  },
  { path: "trials", name: "Trials", badge: (s) => (s.trials === null ? null : open(s.trials)) },
  {
    path: "handoff",
    name: "Hand-off",
    badge: (s) =>
      s.handoff > 0 ? (
        <span className="badge ok" title="Handed off as it stands">
          ✓
        </span>
      ) : null,
  },
];
