import { z } from "zod";
import type { Finding } from "../../core/checks/finding";
import { poseFindings } from "../../core/checks/pose/poseFindings";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { sweepMotion, type SweepRow, type Tick } from "../../core/measure/sweepMotion";
import { method, profile } from "../inputs";
import { job } from "../job";

export interface Swept {
  readonly rows: SweepRow[];
  readonly findings: Finding[];
}

/** Joints along motions, angle by angle, one answer a motion; no rows for a joint that bends no skin. */
export const sweep = job({
  input: z.object({ motions: z.array(z.string()), steps: z.number().int().min(2).max(721), method, profile }),
  async run({ gauge, motion }, { motions, steps, method: skin, profile: limits }, tick): Promise<Swept[]> {
    const swept: Swept[] = [];
    for (const [i, id] of motions.entries()) {
      const along = motion(id);
      const own = gauge(along.joint);
      const within = (done: number, total: number): ReturnType<Tick> => tick(i + done / total, motions.length);
      const rows = own ? await sweepMotion(own, along, steps, { ...REST_MOMENT, method: skin }, within) : [];
      swept.push({ rows, findings: poseFindings(rows, limits) });
    }
    return swept;
  },
});
