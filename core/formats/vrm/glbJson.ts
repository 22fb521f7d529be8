import { splitGlb } from "../glb/preflight";

/** The JSON of a GLB changed, the binary chunk kept as it is (glTF 2.0 specification, section 4.4). */
export function mapGlbJson(
  glb: Uint8Array,
  change: (json: Record<string, unknown>) => Record<string, unknown>,
): Uint8Array {
  const { json, binary } = splitGlb(glb, "glb");
  const text = new TextEncoder().encode(JSON.stringify(change(json as Record<string, unknown>)));
  const padded = (text.length + 3) & ~3;
  const body = (binary.length + 3) & ~3;
  const out = new Uint8Array(12 + 8 + padded + (binary.length ? 8 + body : 0));
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, out.length, true);
  view.setUint32(12, padded, true);
  view.setUint32(16, 0x4e4f534a, true);
  out.fill(0x20, 20, 20 + padded);
  out.set(text, 20);
  if (binary.length) {
    view.setUint32(20 + padded, body, true);
    view.setUint32(24 + padded, 0x004e4942, true);
    out.set(binary, 28 + padded);
  }
  return out;
}
