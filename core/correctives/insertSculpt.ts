import { driverWeightAt } from "../evaluate/drivers/driverWeight";
import type { Character, Driver, Shape, ShapeDelta } from "../model/character";
import { drivenByTurn, rangeAlong } from "../model/drivenByTurn";
import type { Vec3 } from "../math/vec3";
import { mixShapes } from "../shapes/mixShapes";

/** A corrective of the joint that has to change so that its own sculpt is still met. */
export interface NeighbourEdit {
  readonly name: string;
  readonly deltas: readonly ShapeDelta[];
  /** Where it sets in now; null when that stays. */
  readonly fromDegrees: number | null;
}
export interface InsertedSculpt {
  /** The new corrective, on top of those before it. */
  readonly deltas: readonly ShapeDelta[];
  readonly fromDegrees: number;
  readonly edits: readonly NeighbourEdit[];
  /** Every sculpt of the joint at another angle along this axis, and how far it is from what it was, mm. */
  readonly met: readonly { readonly name: string; readonly degrees: number; readonly mm: number }[];
}

/** A new corrective alone sets in at this share of its angle. */
const SETS_IN = 0.4;
/** Axes nearer to each other than this are one, cosine. */
const ALONG = 0.98;

const lengthOf = (deltas: readonly ShapeDelta[]): number => {
  let most = 0;
  for (const { deltas: d } of deltas)
    for (let k = 0; k < d.length; k += 3) most = Math.max(most, Math.hypot(d[k]!, d[k + 1]!, d[k + 2]!));
  return most;
};

/** Drivers of a joint about an axis, with their angles counted along it, to one side of rest; the nearest first. */
export function driversAlong(
  character: Character,
  joint: string,
  axis: Vec3,
  side: number,
): { driver: Driver; from: number; to: number }[] {
  return character.drivers
    .flatMap((driver) => {
      const range = driver.enabled ? rangeAlong(driver, joint, axis, ALONG) : null;
      return range && Math.sign(range.to || range.from) === Math.sign(side) ? [{ driver, ...range }] : [];
    })
    .sort((a, b) => Math.abs(a.to) - Math.abs(b.to));
}

/**
 * Puts a sculpt of one angle among those that the joint has at others, so that each is met at its own: it sets in where
 * the one before it ends, and the one after it sets in at the new angle and gives way by as much as the new one brings
 * there. @param deltas the sculpt at rest, on top of what acted at the angle.
 */
export function insertSculpt(
  character: Character,
  joint: string,
  axis: Vec3,
  degrees: number,
  deltas: readonly ShapeDelta[],
): InsertedSculpt {
  const chain = driversAlong(character, joint, axis, degrees);
  const inside = chain.filter((c) => Math.abs(c.to) < Math.abs(degrees) - 0.5);
  const after = chain.find((c) => Math.abs(c.to) > Math.abs(degrees) + 0.5);
  const last = inside.at(-1);
  const fromDegrees = Math.round(last ? last.to : SETS_IN * degrees);
  const now = after ? weightAt(after, degrees) : 0;
  const own = after && now > 0 ? mixShapes([[{ deltas }, 1] as const, [shapeOf(character, after), now]]) : deltas;
  const edits = after ? [givingWay(character, after, degrees, own)] : [];
  const driver = { shape: "", ...drivenByTurn({ joint, axis }, fromDegrees, degrees) };
  const made: Along = { driver, from: fromDegrees, to: degrees };
  const edited = new Map(edits.map((e) => [e.name, e]));
  const then = (angle: number): readonly ShapeDelta[] =>
    mixed([
      ...chain.map((x) => {
        const edit = edited.get(x.driver.shape);
        return [edit ?? shapeOf(character, x), weightAt(edit ? { ...x, from: degrees } : x, angle)] as const;
      }),
      [{ deltas: own }, weightAt(made, angle)] as const,
    ]);
  const before = (angle: number): readonly ShapeDelta[] =>
    mixed(chain.map((x) => [shapeOf(character, x), weightAt(x, angle)] as const));
  const met = chain
    .filter((c) => Math.abs(c.to - degrees) > 0.5)
    .map((c) => {
      const apart = mixShapes([
        [{ deltas: then(c.to) }, 1],
        [{ deltas: before(c.to) }, -1],
      ]);
      return { name: c.driver.shape, degrees: c.to, mm: 1000 * lengthOf(apart) };
    });
  return { deltas: own, fromDegrees, edits, met };
}

type Along = ReturnType<typeof driversAlong>[number];
type Movement = Pick<Shape, "deltas">;
const shapeOf = ({ shapes }: Character, { driver }: Along): Shape => shapes.find((s) => s.name === driver.shape)!;
const weightAt = ({ driver, from, to }: Along, angle: number): number =>
  driverWeightAt({ ...driver, fromDegrees: from, toDegrees: to, enabled: true }, angle);
/** Movements together, those left out that do not act. */
const mixed = (of: readonly (readonly [Movement, number])[]): readonly ShapeDelta[] =>
  mixShapes(of.filter(([, w]) => w > 0));

/** The corrective after a new one, without what the new one brings at its own angle; it sets in there. */
function givingWay(character: Character, after: Along, degrees: number, own: readonly ShapeDelta[]): NeighbourEdit {
  const shape = shapeOf(character, after);
  const full = after.driver.intensity || 1;
  const s = Math.sign(after.to) * Math.sign(after.driver.toDegrees || after.to);
  const deltas = mixShapes([
    [shape, 1],
    [{ deltas: own }, -1 / full],
  ]);
  return { name: shape.name, deltas, fromDegrees: s * degrees };
}
