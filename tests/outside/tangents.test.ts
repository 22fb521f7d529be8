import { BufferAttribute, BufferGeometry } from "three";
import { loadOda } from "../../demo/cast";
import { computeTangents } from "../../core/deform/computeTangents";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";

/**
 * npm three, BufferGeometry.computeTangents, written by others after the same published method: tangents of Oda's body
 * at rest and under a shape.
 */
describe("tangents against three.js", () => {
  it.each([
    ["at rest", {}],
    ["smiling", { AU12_left: 1, AU12_right: 1 }],
  ])("are the same %s", async (_when, weights) => {
    const oda = { ...(await loadOda()), clips: [] };
    const rig = makeRig(oda);
    const body = oda.parts.findIndex((p) => p.kind === "body");
    const { positions, normals } = deform(rig, { ...REST_MOMENT, weights });
    const [P, N] = [positions[body]!, normals[body]!];
    // the made-up figure has no texture coordinates of its own here: some that bend and stretch over the skin
    const uvs = Float32Array.from({ length: (2 * P.length) / 3 }, (_, i) => {
      const v = 3 * (i >> 1);
      return i % 2 === 0
        ? 0.5 + oda.parts[body]!.positions[v]! + 0.1 * oda.parts[body]!.positions[v + 2]!
        : 0.4 * oda.parts[body]!.positions[v + 1]! + 0.2 * oda.parts[body]!.positions[v + 2]!;
    });
    const geometry = new BufferGeometry();
    geometry
      .setAttribute("position", new BufferAttribute(P, 3))
      .setAttribute("normal", new BufferAttribute(N, 3))
      .setAttribute("uv", new BufferAttribute(uvs, 2));
    geometry.setIndex(new BufferAttribute(rig.triangles[body]!, 1));
    geometry.computeTangents();
    const theirs = geometry.getAttribute("tangent");
    const ours = computeTangents(P, uvs, rig.triangles[body]!, N);
    const worst = { turn: 0, lean: 0, sides: 0 };
    let asked = 0;
    for (let v = 0; v < theirs.count; v++) {
      const l = Math.hypot(theirs.getX(v), theirs.getY(v), theirs.getZ(v));
      if (l < 0.5) continue;
      asked++;
      const dot = ours[4 * v]! * theirs.getX(v) + ours[4 * v + 1]! * theirs.getY(v) + ours[4 * v + 2]! * theirs.getZ(v);
      worst.turn = Math.max(worst.turn, 1 - dot);
      worst.sides += ours[4 * v + 3] === theirs.getW(v) ? 0 : 1;
      worst.lean = Math.max(
        worst.lean,
        Math.abs(ours[4 * v]! * N[3 * v]! + ours[4 * v + 1]! * N[3 * v + 1]! + ours[4 * v + 2]! * N[3 * v + 2]!),
      );
    }
    expect(worst.turn).toBeLessThan(0.001);
    expect(worst.lean).toBeLessThan(1e-4);
    expect(worst.sides).toBe(0);
    expect(asked).toBeGreaterThan(0.9 * theirs.count);
  });
});
