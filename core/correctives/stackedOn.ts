import { drivenWeights } from "../evaluate/drivers/drivenWeight";
import { fullMoments } from "../evaluate/drivers/fullMoment";
import { readyShapes } from "../evaluate/drivers/readyDrivers";
import { REST_MOMENT } from "../evaluate/moment";
import type { Character, ShapeDelta } from "../model/character";
import { mixShapes } from "../shapes/mixShapes";

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
  for (const { shape: name, pose, weights, enabled } of fullMoments(character)) {
    const at = shapeIndex.get(name);
    if (!enabled || name === changed || at === undefined) continue;
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
