import fc from "fast-check";
import { length, normalize, sub, type Vec3 } from "../../core/math/vec3";
import { smoothMax, smoothMin, smoothstep } from "./blend";
import {
  at,
  castRay,
  ellipsoid,
  gradientDirection,
  mirroredField,
  projectTo,
  rotateAbout,
  roundCone,
  surfaceFrom,
  turnedAxes,
  type Field,
} from "./fields";
import { joining } from "./joining";
import { fitRadialField } from "./radialField";
import { sectionRadius } from "./superellipse";

const ball =
  (radius: number): Field =>
  (x, y, z) =>
    Math.hypot(x, y, z) - radius;
const near = (a: Vec3, b: Vec3, digits = 6): void => a.forEach((v, k) => expect(v).toBeCloseTo(b[k]!, digits));
const coordinate = fc.double({ min: -1, max: 1, noNaN: true });

describe("blends", () => {
  it("smoothstep rises from 0 to 1, falls when its ends are swapped", () => {
    expect([smoothstep(0, 1, -1), smoothstep(0, 1, 0.5), smoothstep(0, 1, 2)]).toEqual([0, 0.5, 1]);
    expect(smoothstep(1, 0, 0.25)).toBeCloseTo(1 - smoothstep(0, 1, 0.25), 12);
  });
  it(
    "the smooth minimum never lies above the plain one, equals it " +
      "away from the seam, and takes off k / 4 where both are equal",
    () => {
      fc.assert(
        fc.property(coordinate, coordinate, (a, b) => {
          expect(smoothMin(a, b, 0.2)).toBeLessThanOrEqual(Math.min(a, b) + 1e-15);
          if (Math.abs(a - b) > 0.2) expect(smoothMin(a, b, 0.2)).toBe(Math.min(a, b));
          expect(smoothMax(a, b, 0.2)).toBeCloseTo(-smoothMin(-a, -b, 0.2), 12);
        }),
      );
      expect(smoothMin(0, 0, 0.2)).toBeCloseTo(-0.05, 12);
    },
  );
});

describe("forms", () => {
  it("an ellipsoid of equal radii is a ball, and turning its axes changes nothing", () => {
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, (x, y, z) => {
        fc.pre(Math.hypot(x - 0.1, y, z) > 1e-3);
        expect(ellipsoid([0.1, 0, 0], [0.3, 0.3, 0.3], turnedAxes([0, 1, 0], 1))(x, y, z)).toBeCloseTo(
          Math.hypot(x - 0.1, y, z) - 0.3,
          9,
        );
      }),
    );
  });
  it("an ellipsoid is zero at the ends of its axes", () => {
    const form = ellipsoid([0, 0, 0], [1, 2, 3]);
    for (const [x, y, z] of [
      [1, 0, 0],
      [0, -2, 0],
      [0, 0, 3],
    ] as const)
      expect(form(x, y, z)).toBeCloseTo(0, 12);
    expect(form(0, 0, 0)).toBe(-1);
  });
  it("a round cone has its radii at its ends and a straight one between", () => {
    const form = roundCone([0, 0, 0], [0, 2, 0], 0.4, 0.2);
    expect(form(1, 0, 0)).toBeCloseTo(0.6, 12);
    expect(form(1, 1, 0)).toBeCloseTo(0.7, 12);
    expect(form(0, 3, 0)).toBeCloseTo(0.8, 12);
  });
  it("joined masses never lie outside the smaller one", () => {
    const masses = [
      [ball(0.5), 0.1],
      [roundCone([0, 0, 0], [1, 0, 0], 0.3, 0.3), 0.1],
    ] as const;
    expect(joining(masses)(1, 0.9, 0, 0)).toBeLessThanOrEqual(-0.3);
  });
  it("joined masses that are left out change nothing, to the last bit", () => {
    const masses = [
      [ellipsoid([0.1, 0, 0], [0.3, 0.05, 0.1], turnedAxes([0, 1, 0], 1)), 0.05],
      [roundCone([-0.4, 0.2, 0], [0.3, 0.4, 0.1], 0.1, 0.02), 0.03],
      [ellipsoid([0, -0.5, 0.2], [0.08, 0.2, 0.1]), 0.07],
      [ball(0.05), 0.02],
    ] as const;
    const joined = joining(masses);
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, fc.double({ min: -0.05, max: 0.3, noNaN: true }), (x, y, z, d) =>
        expect(joined(d, x, y, z)).toBe(masses.reduce((sum, [form, seam]) => smoothMin(sum, form(x, y, z), seam), d)),
      ),
      { numRuns: 2000 },
    );
  });
  it("a superellipse with exponent 2 is an ellipse", () =>
    expect(sectionRadius(Math.SQRT1_2, Math.SQRT1_2, 2, 1, 2)).toBeCloseTo(1 / Math.sqrt(0.5 / 4 + 0.5), 12));
  it("turning about an axis keeps lengths and turns a quarter to the next axis", () => {
    near(rotateAbout([1, 0, 0], [0, 0, 1], Math.PI / 2), [0, 1, 0], 12);
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, (x, y, z) =>
        expect(length(rotateAbout([x, y, z], [0, 1, 0], 0.7))).toBeCloseTo(Math.hypot(x, y, z), 9),
      ),
    );
  });
});

describe("walking on a form", () => {
  it("the gradient of a ball points outward, and projecting puts a point on it", () => {
    const p: Vec3 = [0.3, 0.4, 0.1];
    near(gradientDirection(ball(0.5), p), normalize(p), 5);
    expect(Math.abs(at(ball(0.5), projectTo(ball(0.5), p, { maxStep: 0.2, rounds: 8 })))).toBeLessThan(5e-5);
  });
  it("a ray from inside ends on the surface, at its reach when there is none, and is refused from outside", () => {
    const found = castRay(ball(0.1), [0, 0, 0], [1, 0, 0], 0.3)!;
    expect(found[0]).toBeCloseTo(0.1, 5);
    near(castRay(ball(1), [0, 0, 0], [1, 0, 0], 0.3)!, [0.3, 0, 0]);
    expect(castRay(ball(0.1), [0.2, 0, 0], [1, 0, 0], 0.3)).toBeNull();
    expect(() => surfaceFrom(ball(0.1), [0.2, 0, 0], [1, 0, 0], 0.3)).toThrow(/0.2000.*outside the form/);
  });
  it("a mirrored field is the same on both sides", () => expect(mirroredField((x) => x)(-0.3, 0, 0)).toBe(0.3));
});

describe("radial fields", () => {
  const centre: Vec3 = [0, 1, 0];
  const directions: Vec3[] = Array.from({ length: 40 }, (_, i) =>
    normalize([Math.abs(Math.sin(i * 2.1)), Math.cos(i * 1.3), Math.sin(i * 0.7 + 1)]),
  );
  it("gives a ball for points of a ball", () => {
    const radius = fitRadialField(
      directions.map((d): Vec3 => [centre[0] + 2 * d[0], centre[1] + 2 * d[1], centre[2] + 2 * d[2]]),
      centre,
    );
    for (const d of directions) expect(radius(d)).toBeCloseTo(2, 6);
    expect(radius([-1, 0, 0])).toBeCloseTo(2, 4);
  });
  it("passes close by its points and is the same on both sides", () => {
    const bumpy = directions.map((d, i): Vec3 => [
      centre[0] + (2 + 0.1 * Math.sin(i)) * d[0],
      centre[1] + (2 + 0.1 * Math.sin(i)) * d[1],
      centre[2] + (2 + 0.1 * Math.sin(i)) * d[2],
    ]);
    const radius = fitRadialField(bumpy, centre, 1e-9);
    bumpy.forEach((p, i) => expect(radius(directions[i]!)).toBeCloseTo(length(sub(p, centre)), 4));
    expect(radius([0.6, 0.8, 0])).toBeCloseTo(radius([-0.6, 0.8, 0]), 12);
  });
  it("refuses a point at its centre", () => expect(() => fitRadialField([centre], centre)).toThrow(/centre/));
});
