import { z } from "zod";
import type { Finding } from "../../core/checks/finding";
import { PROFILES } from "../../core/checks/profile";
import { runChecks } from "../../core/checks/runChecks";
import { CHECKS } from "../../core/checks/entries";
import { makeRig } from "../../core/deform/rig";
import { skinOutside } from "../../core/measure/clothThrough";
import type { Character } from "../../core/model/character";
import { seatReading, type SeatReading } from "../../core/edits/repairs/headFit";
import {
  applyRepair,
  repairChanges,
  repairSchema,
  type Repair,
  type RepairChange,
} from "../../core/edits/repairs/repairs";
import { job } from "../job";

const MOST_SHOWN = 200;
/** A part that covers less of the head than this is none of the head's. */
const ON_HEAD = 0.3;

export interface RepairPreview {
  readonly changes: RepairChange[];
  /** What the face checks would find afterwards, where the repair is one of the face. */
  readonly face: Finding[] | null;
  /** How a seated part lies on the head, now and then; null for one that has no place there. */
  readonly onHead: { readonly now: SeatReading; readonly then: SeatReading } | null;
  /** Skin that stands out of the seated part at rest. */
  readonly outside: {
    readonly part: string;
    readonly now: number;
    readonly count: number;
    readonly depthMm: number;
    readonly vertices: number[];
  } | null;
}

/** What a repair would change, and for one of a part that lies on the skin, how much skin then stands out of it. */
export const repairPreview = job({
  input: z.object({ repair: repairSchema }),
  async run({ character: before }, { repair }): Promise<RepairPreview> {
    const after = applyRepair(before, repair);
    return {
      changes: repairChanges(before, after),
      face: repair.what === "trim part" || repair.what === "trim lips" ? await faceFindings(after) : null,
      onHead: onHead(before, after, repair),
      outside: repair.what === "seat" ? skinOut(before, after, repair.part) : null,
    };
  },
});

/** Findings of the face checks and of turned faces, worst first. */
async function faceFindings(character: Character): Promise<Finding[]> {
  const only = CHECKS.map((c) => c.id).filter(
    (id) => id.startsWith("face.") || id === "shapes.flip" || id === "skeleton.eye-centre",
  );
  return (await runChecks(character, PROFILES.realtime, { only })).findings;
}

function onHead(before: Character, after: Character, repair: Repair): RepairPreview["onHead"] {
  if (repair.what !== "seat") return null;
  const kind = after.parts.find((p) => p.name === repair.part)?.kind;
  if (kind !== "hair" && kind !== "garment") return null;
  const [now, then] = [seatReading(before, repair.part), seatReading(after, repair.part)];
  if (!now || !then) return null;
  return kind === "hair" || now.covered > ON_HEAD || then.covered > ON_HEAD ? { now, then } : null;
}

function skinOut(before: Character, after: Character, part: string): RepairPreview["outside"] {
  const cover = after.parts.findIndex((p) => p.name === part);
  if (cover < 0) return null;
  const outside = (c: Character): ReturnType<typeof skinOutside> =>
    skinOutside(makeRig({ ...c, shapes: [], drivers: [], shapeDrivers: [] }), cover);
  const seen = outside(after);
  return (
    seen && {
      part: after.parts[seen.body]!.name,
      now: outside(before)?.vertices.length ?? 0,
      count: seen.vertices.length,
      depthMm: 1000 * (seen.depths[0] ?? 0),
      vertices: seen.vertices.slice(0, MOST_SHOWN),
    }
  );
}
