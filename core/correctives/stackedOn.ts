import { drivenWeights } from "../evaluate/drivers/drivenWeight";
import { readyShapes } from "../evaluate/drivers/readyDrivers";
import { REST_MOMENT } from "../evaluate/moment";
import type { Pose } from "../evaluate/poseSkeleton";
import { fromAxisAngle, toEulerXYZ } from "../math/quat";
import type { Character, ShapeDelta } from "../model/character";
import { kindOf, type DriverTerm } from "../model/terms/driverTerms";
import { mixShapes } from "../shapes/mixShapes";

/** Where a corrective is at full, and so where it was sculpted: angles of joints, and weights that it waits for. */
interface FullMoment {
  readonly shape: string;
  readonly pose: Pose;
  readonly weights: Readonly<Record<string, number>>;
}

/** A corrective that gives way so that its own sculpt is still met. */
export interface StackedEdit {
  readonly name: string;
  readonly deltas: readonly ShapeDelta[];
}
export interface StackedAnswer {
  readonly edits: readonly StackedEdit[];
  /** Correctives that act where another one is at full and do not give way, and by how much it moves there, mm. */
  readonly moved: readonly { readonly name: string; readonly mm: number }[];
}

/** Less than this of another corrective's weight does not count, and movement under this is none, metres. */
const ACTS = 0.001;
const NOTHING = 1e-6;

function termMoment(term: DriverTerm): { pose: Pose; weights: Record<string, number> } {
  const most = kindOf(term).atMost(term);
  return "shape" in most
    ? { pose: {}, weights: { [most.shape]: most.weight } }
    : { pose: { [most.joint]: toEulerXYZ(most.turn) }, weights: {} };
}

/** The moments at which correctives are at full, in the order in which their shapes were made. */
export function fullMoments({ shapes, drivers, poseDrivers = [], sampleSets = [] }: Character): FullMoment[] {
  const all: FullMoment[] = [
    ...drivers
      .filter((d) => d.enabled)
      .map(({ shape, joint, axis, toDegrees }) => ({
        shape,
        pose: { [joint]: toEulerXYZ(fromAxisAngle(axis, toDegrees)) },
        weights: {},
      })),
    ...poseDrivers
      .filter((d) => d.enabled)
      .map(({ shape, terms }) => {
        const at = terms.map(termMoment);
        return {
          shape,
          pose: Object.assign({}, ...at.map((t) => t.pose)) as Pose,
          weights: Object.assign({}, ...at.map((t) => t.weights)) as Record<string, number>,
        };
      }),
    ...sampleSets
      .filter((s) => s.enabled)
      .flatMap(({ joints, samples }) =>
        samples.flatMap(({ shape, turns }) =>
          shape === null
            ? []
            : {
                shape,
                pose: Object.fromEntries(joints.map(({ joint }, i) => [joint, toEulerXYZ(turns[i]!)])),
                weights: {},
              },
        ),
      ),
  ];
  const made = new Map(shapes.map((s, i) => [s.name, i]));
  return all.sort((a, b) => (made.get(a.shape) ?? 0) - (made.get(b.shape) ?? 0));
}

/**
 * What a change of one corrective asks of those that were sculpted on top of it: where one of them is at full the skin
 * stays as it was sculpted, so it gives way by what the change brings there. On top are those made later; between
 * poses of one set nothing stacks, as each has the others at none. Correctives made before it that are at full where it
 * acts do not give way: how far the skin moves there is told.
 * @param change of the corrective's own movement, at weight 1, bind space.
 */
export function answerStacked(character: Character, changed: string, change: readonly ShapeDelta[]): StackedAnswer {
  const { shapeIndex } = readyShapes(character);
  const own = shapeIndex.get(changed);
  if (own === undefined) return { edits: [], moved: [] };
  const changes = new Map<string, readonly ShapeDelta[]>([[changed, change]]);
  const edits: StackedEdit[] = [];
  const moved: { name: string; mm: number }[] = [];
  for (const { shape: name, pose, weights } of fullMoments(character)) {
    const at = shapeIndex.get(name);
    if (name === changed || at === undefined) continue;
    const driven = drivenWeights(character, { ...REST_MOMENT, pose, weights });
    const full = driven[at]!;
    const acting = [...changes].filter(([other]) => Math.abs(driven[shapeIndex.get(other)!]!) > ACTS && other !== name);
    if (acting.length === 0 || full < 0.1) continue;
    const brought = mixShapes(acting.map(([other, deltas]) => [{ deltas }, driven[shapeIndex.get(other)!]!] as const));
    const far = largest(brought);
    if (far < NOTHING) continue;
    if (at < own) {
      moved.push({ name, mm: 1000 * far });
      continue;
    }
    const answer = mixShapes([[{ deltas: brought }, -1 / full]]);
    changes.set(name, answer);
    edits.push({
      name,
      deltas: mixShapes([
        [character.shapes[at]!, 1],
        [{ deltas: answer }, 1],
      ]),
    });
  }
  return { edits, moved: moved.sort((a, b) => b.mm - a.mm) };
}

const largest = (deltas: readonly ShapeDelta[]): number => {
  let most = 0;
  for (const { deltas: d } of deltas)
    for (let i = 0; i < d.length; i += 3) most = Math.max(most, Math.hypot(d[i]!, d[i + 1]!, d[i + 2]!));
  return most;
};
