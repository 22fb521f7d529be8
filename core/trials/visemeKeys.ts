import { withKey, withoutKey } from "./keys";
import { valueAt } from "./keyCurve";
import type { Curve } from "./trial";

/** A change of a viseme is felt for so long before and after, unless another key stands there, seconds. */
const FADES = 0.12;

/** A curve of added weight with a key at a time; it fades to nothing on either side. */
export function withAdded(curve: Curve | undefined, at: number, added: number): Curve {
  const times = curve?.times ?? [];
  let out = curve;
  for (const side of [-1, 1] as const) {
    const edge = Math.max(0, at + side * FADES);
    // a curve that goes on beyond is left as it is
    const alone = !times.some((t) => (side < 0 ? t < at && t >= edge - FADES : t > at && t <= edge + FADES));
    if (alone && edge !== at) out = withKey(out, edge, [out && times.length ? valueAt(out, 1, edge)[0]! : 0]);
  }
  return withKey(out, at, [added]);
}

/** A curve without what was added about a time; null when nothing is left. */
export function withoutAdded(curve: Curve, at: number): Curve | null {
  const less = withoutKey(curve, at);
  return less && less.values.some((v) => v !== 0) ? less : null;
}
