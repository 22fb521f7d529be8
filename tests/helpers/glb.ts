/** A GLB container around any JSON and binary chunk. */
export function glbOf(json: object, binary: Uint8Array): Uint8Array {
  const pad = (bytes: Uint8Array, fill: number): Uint8Array => {
    const out = new Uint8Array(Math.ceil(bytes.length / 4) * 4).fill(fill);
    out.set(bytes);
    return out;
  };
  const head = pad(new TextEncoder().encode(JSON.stringify(json)), 0x20);
  const body = pad(binary, 0);
  const out = new Uint8Array(12 + 8 + head.length + (body.length ? 8 + body.length : 0));
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, out.length, true);
  view.setUint32(12, head.length, true);
  view.setUint32(16, 0x4e4f534a, true);
  out.set(head, 20);
  if (body.length) {
    view.setUint32(20 + head.length, body.length, true);
    view.setUint32(24 + head.length, 0x004e4942, true);
    out.set(body, 28 + head.length);
  }
  return out;
}

/** One triangle with indices, as glTF JSON and its binary chunk, to be spoilt by tests. */
export function jsonOf() {
  const binary = new Uint8Array(44);
  new Float32Array(binary.buffer, 0, 9).set([0, 0, 0, 0.5, 0, 0, 0, 1.7, 0]);
  new Uint16Array(binary.buffer, 36, 3).set([0, 1, 2]);
  return {
    binary,
    indicesAt: 36,
    json: {
      asset: { version: "2.0" },
      extensionsRequired: undefined as string[] | undefined,
      scene: 0,
      scenes: [{ nodes: [0] }],
      nodes: [{ mesh: 0 }] as { mesh?: number; children?: number[] }[],
      meshes: [{ name: "tri", primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
      accessors: [
        { bufferView: 0, componentType: 5126, count: 3, type: "VEC3", min: [0, 0, 0], max: [0.5, 1.7, 0] },
        { bufferView: 1, componentType: 5123, count: 3, type: "SCALAR" },
      ],
      bufferViews: [
        { buffer: 0, byteOffset: 0, byteLength: 36 },
        { buffer: 0, byteOffset: 36, byteLength: 6 },
      ],
      buffers: [{ byteLength: 44 }],
    },
  };
}
