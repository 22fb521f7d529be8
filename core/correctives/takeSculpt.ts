import { deform, type Rig } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import { readObj } from "../formats/obj/readObj";
import { matchSculpt } from "../formats/obj/writeObj";
import { isUserError, UserError } from "../model/userError";
import { fitTarget } from "../shapes/targets/fitTarget";
import { correctiveFromSculpt, type ReturnedSculpt } from "./correctiveFromSculpt";
import { finerSculpt } from "./finerSculpt";
import { turnsIn } from "./turnsIn";
import { poseDifference, readPoseNote } from "./poseNote";

/** A sculpt from a file, at rest, with what should be known of it. */
export interface TakenSculpt extends ReturnedSculpt {
  /** What was set right to make the file fit. */
  readonly notes: readonly string[];
  /**
   * How many vertices were moved in the pose, how far at most, and where: the part and the joint that holds most of it.
   */
  readonly moved: {
    readonly vertices: number;
    readonly maxMm: number;
    readonly part: string;
    readonly joint: string | null;
  };
  /** Why it is doubtful that it was sculpted in this pose; null where it is not. */
  readonly doubt: string | null;
}

/**
 * From this share on a movement that turns of joints explain was not sculpted but posed (as `shapes.pose-baked` has
 * it).
 */
const A_TURN = 0.5;

/**
 * Returns a sculpted OBJ of a moment to rest. The pose in the file's head is compared; without one, a movement that is
 * mostly a turn of a joint is doubted. Files in other units, axes, or vertex order are set right. @throws UserError for
 * a file of another pose, or of another mesh.
 */
export function takeSculpt(rig: Rig, moment: Moment, bytes: Uint8Array, file: string): TakenSculpt {
  const { character } = rig;
  const note = readPoseNote(bytes);
  const difference = note && poseDifference(note, moment);
  if (difference)
    throw new UserError(
      `This is a sculpt of another pose: ${difference}.`,
      file,
      "Pose the figure as the file says, and bring it back there.",
    );
  const posed = deform(rig, moment, { normals: false });
  const obj = readObj(bytes, file);
  const notes: string[] = [];
  let sculpt: readonly (Float32Array | null)[];
  try {
    sculpt = matchSculpt(character, posed.positions, obj, file);
  } catch (error) {
    if (!isUserError(error)) throw error;
    const fitted = fitOnto(rig, posed.positions, obj, file) ?? finerSculpt(character, posed.positions, obj);
    if (!fitted) throw error;
    sculpt = fitted.sculpt;
    notes.push(...fitted.notes);
  }
  const made = correctiveFromSculpt(rig, moment, sculpt);
  const found = note ? null : turnsIn(character, made.deltas);
  const turn = found && found.share > A_TURN ? found : null;
  return {
    ...made,
    notes,
    moved: movedIn(rig, posed.positions, sculpt),
    doubt: turn
      ? `${Math.round(100 * turn.share)} % of what differs is that whole limbs ` +
        `were turned, ${turn.joint} most: it looks like a sculpt of another pose.`
      : null,
  };
}

/** The file in the order, unit and axes of the posed mesh; null when it is another mesh. */
function fitOnto(
  { character }: Rig,
  positions: readonly Float32Array[],
  obj: ReturnType<typeof readObj>,
  file: string,
): { sculpt: (Float32Array | null)[]; notes: readonly string[] } | null {
  try {
    const standing = { ...character, parts: character.parts.map((p, i) => ({ ...p, positions: positions[i]! })) };
    const { deltas, notes } = fitTarget(standing, { ...obj, file, name: file });
    const sculpt = positions.map((P, p): Float32Array | null => {
      const delta = deltas.find((d) => d.part === p);
      if (!delta) return null;
      const out = P.slice();
      delta.vertices.forEach((v, k) => {
        for (let c = 0; c < 3; c++) out[3 * v + c]! += delta.deltas[3 * k + c]!;
      });
      return out;
    });
    return { sculpt, notes };
  } catch (error) {
    if (isUserError(error)) return null;
    throw error;
  }
}

function movedIn(
  { character }: Rig,
  positions: readonly Float32Array[],
  sculpt: readonly (Float32Array | null)[],
): TakenSculpt["moved"] {
  let [vertices, max] = [0, 0];
  const byPart = new Map<number, number>();
  const byJoint = new Map<number, number>();
  sculpt.forEach((target, p) => {
    if (!target) return;
    const P = positions[p]!;
    const { skin } = character.parts[p]!;
    for (let v = 0; v < P.length / 3; v++) {
      const far = Math.hypot(
        target[3 * v]! - P[3 * v]!,
        target[3 * v + 1]! - P[3 * v + 1]!,
        target[3 * v + 2]! - P[3 * v + 2]!,
      );
      if (far <= 2e-6) continue;
      vertices++;
      max = Math.max(max, far);
      byPart.set(p, (byPart.get(p) ?? 0) + far);
      if (skin)
        for (let i = v * skin.influenceCount; i < (v + 1) * skin.influenceCount; i++)
          byJoint.set(skin.joints[i]!, (byJoint.get(skin.joints[i]!) ?? 0) + far * skin.weights[i]!);
    }
  });
  const most = (map: ReadonlyMap<number, number>): number | undefined =>
    [...map].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0];
  const [part, joint] = [most(byPart), most(byJoint)];
  return {
    vertices,
    maxMm: 1000 * max,
    part: part === undefined ? "" : character.parts[part]!.name,
    joint: joint === undefined ? null : (character.skeleton?.joints[joint]?.name ?? null),
  };
}

/** What moved, as a sentence. */
export const movedWords = ({ vertices, maxMm, part, joint }: TakenSculpt["moved"]): string =>
  `${vertices.toLocaleString("en")} ${vertices === 1 ? "vertex" : "vertices"} moved by ` +
  `up to ${maxMm.toFixed(1)} mm, most of it on ${part}${joint ? ` round ${joint}` : ""}.`;
