import { type Part, NO_JOINT } from "../model/character";

/** Joint that holds the most weight of a part; NO_JOINT for an unbound part. */
export function mainJointOf(part: Part): number {
  if (!part.skin) return NO_JOINT;
  const held = new Map<number, number>();
  part.skin.weights.forEach(
    (w, i) => w > 0 && held.set(part.skin!.joints[i]!, (held.get(part.skin!.joints[i]!) ?? 0) + w),
  );
  return [...held].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? NO_JOINT;
}
