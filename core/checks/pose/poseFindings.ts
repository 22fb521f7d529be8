import type { SweepRow } from "../../measure/sweepMotion";
import { SWEEP_CHECKS } from "../entries";
import type { Finding } from "../finding";
import type { Profile } from "../profile";

/** Findings of one motion's sweep with correctives on: the worst angle for each measure that passes its limit. */
export const poseFindings = (rows: readonly SweepRow[], { limits }: Profile): Finding[] =>
  SWEEP_CHECKS.flatMap((c) => c.run(rows, limits as never) ?? []);
