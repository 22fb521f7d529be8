import { rotationCentres, turnAboutCentres } from "../../bench/otherMethods";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { limbVolume } from "../../core/measure/limbVolume";
import { makeJointGauge } from "../../core/measure/measureJoint";
import { tube } from "../helpers/characters";

describe("centres of rotation (Le & Hodgins 2016, section 3: those of a cylinder with its weights along it lie on its axis)", () => {
  const limb = tube();
  const part = limb.parts[0]!;
  const gauge = makeJointGauge(makeRig(limb), 1)!;
  const triangles = gauge.rig.triangles[0]!;
  const chosen = Uint32Array.from({ length: triangles.length / 3 }, (_, t) => t);
  const centres = rotationCentres(part.positions, triangles, chosen, part.skin!, gauge.region.vertices);
  it("lie on the axis, at the height of their own ring", () => {
    const found = [...centres].flatMap(([v, c]) => (c ? [{ v, c }] : []));
    expect(found.length).toBeGreaterThan(50);
    for (const { v, c } of found) {
      expect(Math.hypot(c[0], c[2])).toBeLessThan(1e-5);
      expect(Math.abs(c[1] - part.positions[3 * v + 1]!)).toBeLessThan(0.03);
    }
  });
  it("keep the section of a twisted limb, which linear skinning narrows by cos(t/2)", () => {
    const d = deform(gauge.rig, { ...REST_MOMENT, pose: { lower: [0, 120, 0] } });
    const P = d.positions[0]!.slice();
    const radius = (v: number): number => Math.hypot(P[3 * v]!, P[3 * v + 2]!);
    const half = [...gauge.region.vertices].filter((v) => Math.abs(gauge.region.share[v]! - 0.5) < 1e-3);
    expect(half.length).toBeGreaterThan(10);
    for (const v of half) expect(radius(v)).toBeCloseTo(0.05 * Math.cos(Math.PI / 3), 4);
    turnAboutCentres(P, part.positions, part.skin!, d.matrices[0]!, centres);
    for (const v of half) expect(radius(v)).toBeCloseTo(0.05, 4);
  });
});

describe("the volume of bent tubes (second theorem of Pappus: area of the section times the way of its middle)", () => {
  const sides = 48;
  const limb = tube({ rings: 65, sides });
  const gauge = makeJointGauge(makeRig(limb), 1)!;
  const { region } = gauge;
  const triangles = gauge.rig.triangles[0]!;
  const area = (sides / 2) * 0.05 ** 2 * Math.sin((2 * Math.PI) / sides);
  const { positions } = limb.parts[0]!;
  /** The limb's length over the joint, by the rings its triangles take in. */
  const heights = [...region.limbTriangles].flatMap((t) =>
    [0, 1, 2].map((k) => positions[3 * triangles[3 * t + k]! + 1]!),
  );
  const reach = Math.max(...heights) - Math.min(...heights);
  it.each([0.1, 0.2, 0.5])("bent on an arc of %d m about an axis beside it, it is what the straight one has", (arc) => {
    const P = positions.slice();
    for (let v = 0; v < P.length / 3; v++) {
      const angle = (positions[3 * v + 1]! - 0.3) / arc;
      const out = arc + positions[3 * v + 2]!;
      P[3 * v + 1] = out * Math.sin(angle);
      P[3 * v + 2] = out * Math.cos(angle) - arc;
    }
    const volume = limbVolume(region, triangles, P);
    expect(Math.abs(volume / (area * reach) - 1)).toBeLessThan(0.01);
    expect(volume / limbVolume(region, triangles, positions)).toBeCloseTo(1, 2);
  });
});
