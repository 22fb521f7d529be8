import { z } from "zod";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { length, sub } from "../../math/vec3";
import { statureOf } from "../../measure/stature";
import { faceCountOf, triangleCountOf, vertexCountOf, type Character } from "../../model/character";
import { untold, type ShareDone } from "../../model/shareDone";
import { UserError } from "../../model/userError";
import { removePart } from "../mend/mendParts";
import { reduceCharacter } from "../reduce/reduceCharacter";
import { bendHinges, hingeBends, HINGED_LIMBS, type HingedLimb } from "../../skeleton/hinges";
import { boneLabel } from "../../names/humanoidBones";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { hangJoint, placeJoint } from "../../skeleton/workOnJoint";
import { refitShapes } from "../skeleton/refitJoints";
import { shrinkTextures, textureBytes, textureSide } from "../textures/shrinkTextures";
import { ADDABLE, addJoint } from "./addJoint";
import { cutCovered } from "./cutCovered";
import { triangulatePart, weldPart } from "./refaceParts";
import { seatPart } from "./seatPart";
import { AXES } from "../../model/axes";
import { putOnGround, standUp } from "./standUp";
import { trimLips, trimPart } from "./trimFace";
import { tidyMaterials } from "./tidyMaterials";

const name = z.string().min(1).max(200);
const triple = z.tuple([z.number(), z.number(), z.number()]);

/** Repairs that answer no finding: what a rigger asks for by hand. Lengths in mm, angles in degrees. */
export const repairSchema = z.discriminatedUnion("what", [
  z.object({ what: z.literal("weld"), part: name, withinMm: z.number().positive().max(20) }),
  z.object({ what: z.literal("triangulate"), part: name }),
  z.object({
    what: z.literal("stand"),
    factor: z.number().positive().max(10_000),
    up: z.enum(AXES),
    front: z.enum(AXES),
  }),
  z.object({ what: z.literal("ground") }),
  z.object({ what: z.literal("materials") }),
  z.object({ what: z.literal("textures"), longest: z.number().int().min(16).max(16_384) }),
  z.object({ what: z.literal("reduce"), triangles: z.number().int().min(100).max(10_000_000) }),
  z.object({
    what: z.literal("seat"),
    part: name,
    moveMm: triple,
    turn: triple,
    scale: z.number().positive().max(100),
  }),
  z.object({
    what: z.literal("trim part"),
    part: name,
    moveMm: triple,
    size: z.tuple([z.number().positive().max(10), z.number().positive().max(10), z.number().positive().max(10)]),
  }),
  z.object({
    what: z.literal("trim lips"),
    depthMm: z.number().min(-20).max(20),
    heightMm: z.number().min(-20).max(20),
    hidden: z.number().min(0).max(1),
  }),
  z.object({ what: z.literal("cut covered"), part: name, coverMm: z.number().min(0).max(100) }),
  z.object({ what: z.literal("leave out"), part: name }),
  z.object({ what: z.literal("add joint"), bone: z.enum(ADDABLE) }),
  z.object({
    what: z.literal("hinges"),
    limb: z.enum(Object.keys(HINGED_LIMBS) as [HingedLimb, ...HingedLimb[]]),
    degrees: z.number().min(0).max(60),
  }),
  z.object({ what: z.literal("hang joint"), joint: name, under: name.nullable() }),
  z.object({
    what: z.literal("place joint"),
    joint: name,
    moveMm: triple,
    turn: triple,
    roll: z.number().min(-360).max(360),
    withBelow: z.boolean(),
  }),
  z.object({ what: z.literal("refit"), shapes: z.array(name).min(1).max(2000) }),
]);
export type Repair = z.infer<typeof repairSchema>;

/** The character after the repair. @throws UserError when it cannot be made; then nothing has changed. */
export function applyRepair(character: Character, repair: Repair, tell: ShareDone = untold): Character {
  switch (repair.what) {
    case "weld":
      return weldPart(character, repair.part, repair.withinMm / 1000);
    case "triangulate":
      return triangulatePart(character, repair.part);
    case "stand":
      return standUp(character, repair.factor, repair.up, repair.front);
    case "ground":
      return putOnGround(character);
    case "materials":
      return tidyMaterials(character);
    case "textures":
      return shrinkTextures(character, repair.longest, null, tell);
    case "reduce":
      return reduceCharacter(character, repair.triangles, tell).character;
    case "seat":
      return seatPart(character, repair.part, repair);
    case "trim part":
      return trimPart(character, repair.part, repair);
    case "trim lips":
      return trimLips(character, repair);
    case "cut covered":
      return cutCovered(character, repair.part, repair.coverMm / 1000);
    case "leave out":
      return removePart(character, repair.part);
    case "add joint":
      return addJoint(character, repair.bone);
    case "hinges": {
      if (!character.skeleton) throw new UserError("The character has no skeleton.", "hinge", "");
      return bendHinges(character, humanoidMap(character.skeleton, character.jointMap), repair.limb, repair.degrees);
    }
    case "hang joint":
      return hangJoint(character, repair.joint, repair.under);
    case "place joint":
      return placeJoint(character, repair);
    case "refit":
      return refitShapes(character, repair.shapes);
  }
}

/** A repair as a sentence for the ledger. */
export function describeRepair(repair: Repair): string {
  switch (repair.what) {
    case "weld":
      return `welded ${repair.part} within ${repair.withinMm} mm, seams kept`;
    case "triangulate":
      return `cut the faces of ${repair.part} into triangles`;
    case "stand":
      return `${repair.factor === 1 ? "turned the character" : `scaled the character by ${repair.factor}`}${repair.up === "+Y" && repair.front === "+Z" ? "" : `, ${repair.up} up and ` + `${repair.front} to the front`}`;
    case "ground":
      return "put the character on the ground";
    case "materials":
      return "gave every use a material of its own";
    case "textures":
      return `brought textures down to ${repair.longest} pixels`;
    case "reduce":
      return `reduced the character to ${repair.triangles.toLocaleString("en")} triangles`;
    case "seat":
      return (
        `seated ${repair.part}: moved ${repair.moveMm.join(", ")} ` +
        `mm${repair.turn.some((a) => a !== 0) ? `, turned ${repair.turn.join(", ")}°` : ""}${repair.scale === 1 ? "" : `, scaled by ${repair.scale}`}`
      );
    case "trim part":
      return (
        `trimmed ${repair.part} under every ` +
        `shape${repair.moveMm.some((x) => x !== 0) ? `: moved ${repair.moveMm.join(", ")} mm` : ""}${repair.size.some((x) => x !== 1) ? `, scaled ${repair.size.join(" × ")}` : ""}`
      );
    case "trim lips":
      return (
        `trimmed the lips under every shape: seam ${repair.depthMm} mm back, ` +
        `${repair.heightMm} mm up, ${Math.round(100 * repair.hidden)} % rolled in`
      );
    case "cut covered":
      return `left out the skin that ${repair.part} covers by ${repair.coverMm} mm`;
    case "leave out":
      return `left out ${repair.part}`;
    case "add joint":
      return `added a joint for the ${boneLabel(repair.bone)}`;
    case "hinges":
      return `bent both ${repair.limb} of the skeleton at rest to ${repair.degrees}°`;
    case "hang joint":
      return `hung ${repair.joint} on ${repair.under ?? "nothing"}`;
    case "place joint":
      return `placed ${repair.joint}:${[repair.moveMm.some((x) => x !== 0) ? ` moved ${repair.moveMm.join(", ")} mm` : "", repair.turn.some((x) => x !== 0) ? ` turned ${repair.turn.join(", ")}°` : "", repair.roll !== 0 ? ` rolled ${repair.roll}°` : ""].filter(Boolean).join(",")}${repair.withBelow ? ", with all below it" : ""}`;
    case "refit":
      return (
        "let the joints go with the skin in " +
        `${repair.shapes.length <= 2 ? repair.shapes.join(" and ") : `${repair.shapes.length} shapes`}`
      );
  }
}

function lowestMm(character: Character): number {
  let lowest = Infinity;
  for (const p of character.parts) for (const v of p.corners) lowest = Math.min(lowest, 1000 * p.positions[3 * v + 1]!);
  return Number.isFinite(lowest) ? lowest : 0;
}

/** How far any joint of the same name went at rest, metres. */
function farthestJoint({ skeleton: a }: Character, { skeleton: b }: Character): number {
  if (!a || !b || a === b) return 0;
  const [from, to] = [worldMatrices(a, {}), worldMatrices(b, {})];
  const at = new Map(b.joints.map((j, i) => [j.name, i]));
  return a.joints.reduce(
    (far, { name }, j) =>
      at.has(name)
        ? Math.max(far, length(sub(translationOf(from, 16 * j), translationOf(to, 16 * at.get(name)!))))
        : far,
    0,
  );
}

/** How far any vertex went, metres; 0 where parts or vertices are others. */
function farthestMove(before: Character, after: Character): number {
  let far = 0;
  for (const part of before.parts) {
    const now = after.parts.find((p) => p.name === part.name);
    if (!now || now === part || now.positions.length !== part.positions.length) continue;
    for (let v = 0; v < part.positions.length; v += 3)
      far = Math.max(
        far,
        Math.hypot(
          now.positions[v]! - part.positions[v]!,
          now.positions[v + 1]! - part.positions[v + 1]!,
          now.positions[v + 2]! - part.positions[v + 2]!,
        ),
      );
  }
  return far;
}

/** One number of the character that a repair changes. */
export interface RepairChange {
  readonly of: string;
  readonly before: number;
  readonly after: number;
  /** Digits shown behind the point. */
  readonly digits: number;
}

const bendOf =
  (limb: HingedLimb) =>
  (c: Character): number =>
    c.skeleton ? (hingeBends(c, humanoidMap(c.skeleton, c.jointMap), limb)?.left ?? 0) : 0;

/** What a repair changes, in numbers; what stays is left out. */
export function repairChanges(before: Character, after: Character): RepairChange[] {
  const sum = (c: Character, of: (p: Character["parts"][number]) => number): number =>
    c.parts.reduce((n, p) => n + of(p), 0);
  const rows: [string, (c: Character) => number, number][] = [
    ["textures, KiB", (c) => textureBytes(c) / 1024, 0],
    ["longest texture side, px", (c) => Math.max(0, ...c.materials.map(textureSide)), 0],
    ["parts", (c) => c.parts.length, 0],
    ["vertices", (c) => sum(c, vertexCountOf), 0],
    ["faces", (c) => sum(c, faceCountOf), 0],
    ["triangles", (c) => sum(c, triangleCountOf), 0],
    ["materials", (c) => c.materials.length, 0],
    ["joints", (c) => c.skeleton?.joints.length ?? 0, 0],
    ["joint offsets in shapes", (c) => c.shapes.reduce((n, s) => n + (s.jointOffsets?.length ?? 0), 0), 0],
    ["bend of left elbow, °", bendOf("elbows"), 1],
    ["bend of left knee, °", bendOf("knees"), 1],
    ["stature, m", statureOf, 3],
    ["lowest point, mm", lowestMm, 1],
  ];
  const counts = rows
    .map(([of, value, digits]) => ({ of, before: value(before), after: value(after), digits }))
    .filter((r) => Math.abs(r.before - r.after) > 0.5 * 10 ** -r.digits);
  const [joints, far] = [1000 * farthestJoint(before, after), 1000 * farthestMove(before, after)];
  // joints that move in a mesh that stays, and a turn that leaves every count, are told by how far
  const told =
    far <= 0.005 && joints > 0.005
      ? { of: "farthest joint moved, mm", before: 0, after: joints, digits: 1 }
      : counts.length === 0 && far > 0.005
        ? { of: "farthest vertex moved, mm", before: 0, after: far, digits: 2 }
        : null;
  return told ? [...counts, told] : counts;
}
