import type { Accessor } from "@gltf-transform/core";
import { UserError } from "../../model/userError";

/** Accessor values as floats, normalised integers decoded; refuses NaN and infinity. */
export function floats(
  accessor: Accessor,
  what: string,
  file: string,
  todo = "Clean the mesh (zero-length normals and divided-by-zero weights are the usual cause) and export again.",
): Float32Array {
  const size = accessor.getElementSize();
  const count = accessor.getCount();
  const raw = accessor.getArray();
  let out: Float32Array;
  if (raw instanceof Float32Array && raw.length === size * count) out = raw.slice();
  else {
    out = new Float32Array(size * count);
    const element: number[] = [];
    for (let i = 0; i < count; i++) out.set(accessor.getElement(i, element).slice(0, size), i * size);
  }
  for (let i = 0; i < out.length; i++)
    if (!Number.isFinite(out[i]!))
      throw new UserError(`Element ${Math.floor(i / size)} is not a number.`, `${file}, ${what}`, todo);
  return out;
}
