import type { SkinBinding } from "../model/character";

/** A binding without its empty slots: the influences of vertex v are start[v] .. start[v + 1]. */
export interface PackedSkin {
  readonly start: Uint32Array;
  readonly joints: Uint16Array;
  readonly weights: Float32Array;
}

const known = new WeakMap<SkinBinding, PackedSkin>();

/** Packs a binding once; bindings are immutable, so the packed form is kept with them. */
export function packedSkin(skin: SkinBinding): PackedSkin {
  const kept = known.get(skin);
  if (kept) return kept;
  const vertexCount = skin.weights.length / skin.influenceCount;
  const start = new Uint32Array(vertexCount + 1);
  const used = skin.weights.reduce((n, w) => n + (w !== 0 ? 1 : 0), 0);
  const joints = new Uint16Array(used);
  const weights = new Float32Array(used);
  let at = 0;
  for (let v = 0, n = 0; v < vertexCount; v++) {
    for (let k = 0; k < skin.influenceCount; k++, n++) {
      if (skin.weights[n] === 0) continue;
      joints[at] = skin.joints[n]!;
      weights[at++] = skin.weights[n]!;
    }
    start[v + 1] = at;
  }
  const packed = { start, joints, weights };
  known.set(skin, packed);
  return packed;
}
