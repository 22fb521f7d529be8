import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { buildBvh, closestPoint, windingNumber } from "../../core/math/bvh";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { tube } from "../helpers/characters";
import { between, randomFrom } from "../helpers/random";

/** npm three-mesh-bvh: closest point and ray parity, written by others, on a bent closed tube. */
describe("closest point and inside against three-mesh-bvh", () => {
  const rig = makeRig(tube());
  const P = deform(rig, { ...REST_MOMENT, pose: { lower: [70, 0, 0] } }).positions[0]!;
  const triangles = rig.triangles[0]!;
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(P.slice(), 3));
  geometry.setIndex(new BufferAttribute(triangles.slice(), 1));
  const theirs = new MeshBVH(geometry, { indirect: true });
  const ours = buildBvh(triangles, P);
  const random = randomFrom(8);
  const points = Array.from(
    { length: 800 },
    () => [between(random, -0.15, 0.15), between(random, -0.1, 0.6), between(random, -0.1, 0.5)] as const,
  );
  it("gives the same distances", () => {
    for (const [x, y, z] of points)
      expect(closestPoint(ours, P, x, y, z).distance).toBeCloseTo(
        theirs.closestPointToPoint(new Vector3(x, y, z))!.distance,
        6,
      );
  });
  it("agrees on inside and outside by ray parity", () => {
    let inside = 0;
    for (const [x, y, z] of points) {
      if (closestPoint(ours, P, x, y, z).distance < 1e-4) continue;
      const hits = theirs.raycast(
        new Ray(new Vector3(x, y, z), new Vector3(0.431, 0.811, -0.395).normalize()),
        DoubleSide,
      ).length;
      const winding = Math.round(windingNumber(ours, P, x, y, z));
      expect(Math.abs(winding) % 2).toBe(hits % 2);
      inside += winding === 1 ? 1 : 0;
    }
    expect(inside).toBeGreaterThan(20);
  });
});
