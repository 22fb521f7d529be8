import { eyeballsOf } from "../measure/eyeballs";
import type { Tick } from "../measure/sweepMotion";
import type { Character, JointOffset, Shape, ShapeDelta } from "../model/character";
import { UserError } from "../model/userError";
import { bakeMix } from "../shapes/bakeMix";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointOffsetsOf } from "../edits/skeleton/refitJoints";
import { transferable, transferShapes } from "../transfer/transferShapes";

/** Another face for a character: how the base and the joints move, and its shapes made anew for it. */
export interface NewIdentity {
  readonly deltas: readonly ShapeDelta[];
  readonly jointOffsets: readonly JointOffset[];
  /** Shapes with the movement they have on the new face; those that are not here keep theirs. */
  readonly shapes: readonly Pick<Shape, "name" | "deltas">[];
}

const TAKEN = "\u0000identity";

/** Where the joints go with a new base: as the flesh round them, and the eyes' joints with the eyeballs. */
export function offsetsFor(character: Character, deltas: readonly ShapeDelta[]): JointOffset[] {
  const { skeleton } = character;
  if (!skeleton || !character.parts.some((p) => p.kind === "body" && p.skin)) return [];
  const moved = movedBase(character, deltas, []);
  const { jointOfBone } = humanoidMap(skeleton, character.jointMap);
  const [before, after] = [eyeballsOf(character), eyeballsOf(moved)];
  const eyes = new Map(
    before.flatMap((eye): [string, [number, number, number]][] => {
      const joint = jointOfBone.get(`${eye.side}Eye`);
      const there = after.find((e) => e.side === eye.side);
      return joint === undefined || !there
        ? []
        : [
            [
              skeleton.joints[joint]!.name,
              [0, 1, 2].map((c) => there.centre[c]! - eye.centre[c]!) as [number, number, number],
            ],
          ];
    }),
  );
  const flesh = jointOffsetsOf(character, { name: TAKEN, label: TAKEN, deltas });
  return [...flesh.filter((o) => !eyes.has(o.joint)), ...[...eyes].map(([joint, offset]) => ({ joint, offset }))];
}

/** The character with its base moved; shapes, correctives and drivers stay as movement from the new base. */
export const movedBase = (
  character: Character,
  deltas: readonly ShapeDelta[],
  jointOffsets: readonly JointOffset[],
): Character =>
  bakeMix(
    {
      ...character,
      shapes: [
        ...character.shapes,
        { name: TAKEN, label: TAKEN, deltas, ...(jointOffsets.length ? { jointOffsets } : {}) },
      ],
    },
    { [TAKEN]: 1 },
    false,
  );

/**
 * Prepares another face: the joints go with it, and with `carry` every shape of the face is carried from the old base
 * to the new one as to another body (deformation transfer, lids and lips that meet there meet here, lids off the
 * eyeballs). Builds and joint-driven shapes stay as they are.
 */
export async function newIdentity(
  character: Character,
  deltas: readonly ShapeDelta[],
  carry: boolean,
  tick: Tick = () => {},
): Promise<NewIdentity> {
  if (!deltas.some((d) => d.vertices.length))
    throw new UserError("Nothing moves: it is the face that is there.", "new face", "");
  const jointOffsets = offsetsFor(character, deltas);
  if (!carry) return { deltas, jointOffsets, shapes: [] };
  const base = movedBase(character, deltas, jointOffsets);
  const { shapes } = await transferShapes(
    character,
    base,
    transferable(character).map((s) => s.name),
    tick,
  );
  return { deltas, jointOffsets, shapes: shapes.map(({ name, deltas: d }) => ({ name, deltas: d })) };
}
