import fc from "fast-check";
import { mat4, quat, vec3 } from "gl-matrix";
import { composeTRS, decomposeTRS, identityMat4, invertAffine, multiplyMat4, transformPoint } from "./mat4";
import {
  angleBetweenQuats,
  betweenDirections,
  fromAxes,
  fromAxisAngle,
  fromEulerXYZ,
  multiplyQuat,
  rotate,
  toEulerXYZ,
  twistDegrees,
} from "./quat";
import { svd3 } from "./svd3";
import { cross, dot, length, normalize, type Vec3 } from "./vec3";

const angle = fc.double({ min: -179, max: 179, noNaN: true });
const coordinate = fc.double({ min: -3, max: 3, noNaN: true });
const vector = fc.tuple(coordinate, coordinate, coordinate);
const direction = vector.filter((v) => length(v) > 0.1).map(normalize);
const near = (a: readonly number[], b: ArrayLike<number>, within = 1e-9): void =>
  a.forEach((x, i) => expect(Math.abs(x - b[i]!)).toBeLessThan(within));

describe("quaternions", () => {
  it("multiply and rotate like gl-matrix", () => {
    fc.assert(
      fc.property(direction, angle, direction, angle, vector, (u, a, v, b, p) => {
        const qa = fromAxisAngle(u, a);
        const qb = fromAxisAngle(v, b);
        near(
          multiplyQuat(qa, qb),
          quat.multiply(
            new Float64Array(4) as unknown as quat,
            qa as unknown as quat,
            qb as unknown as quat,
          ) as Float64Array,
        );
        near(
          rotate(qa, p),
          vec3.transformQuat(
            new Float64Array(3) as unknown as vec3,
            p as unknown as vec3,
            qa as unknown as quat,
          ) as Float64Array,
        );
      }),
    );
  });
  it("go to intrinsic XYZ angles and back", () => {
    fc.assert(
      fc.property(angle, fc.double({ min: -89, max: 89, noNaN: true }), angle, (x, y, z) => {
        const q = fromEulerXYZ(x, y, z);
        const [a, b, c] = toEulerXYZ(q);
        expect(angleBetweenQuats(q, fromEulerXYZ(a, b, c))).toBeLessThan(1e-4);
      }),
    );
  });
  it("apply intrinsic XYZ as x first, then the turned y, then z", () => {
    near(rotate(fromEulerXYZ(90, 90, 0), [0, 0, 1]), [1, 0, 0]);
    near(rotate(fromEulerXYZ(0, 90, 90), [1, 0, 0]), [0, 1, 0]);
  });
  it("read the twist about an axis whatever swing stands beside it", () => {
    fc.assert(
      fc.property(
        direction,
        fc.double({ min: -150, max: 150, noNaN: true }),
        fc.double({ min: -80, max: 80, noNaN: true }),
        direction,
        (axis, twist, swing, other) => {
          const across = cross(axis, other);
          fc.pre(length(across) > 0.1);
          const q = multiplyQuat(fromAxisAngle(normalize(across), swing), fromAxisAngle(axis, twist));
          expect(twistDegrees(q, axis)).toBeCloseTo(twist, 5);
        },
      ),
    );
  });
  it("turn one direction into another, opposite ones too", () => {
    fc.assert(fc.property(direction, direction, (a, b) => near(rotate(betweenDirections(a, b), a), b, 1e-6)));
    near(rotate(betweenDirections([0, 1, 0], [0, -1, 0]), [0, 1, 0]), [0, -1, 0], 1e-6);
  });
  it("make the frame of three axes", () => {
    const x = normalize([1, 2, 0.5]);
    const z = normalize(cross(x, [0, 1, 0]));
    const y = cross(z, x);
    const q = fromAxes(x, y, z);
    near(rotate(q, [1, 0, 0]), x, 1e-9);
    near(rotate(q, [0, 1, 0]), y, 1e-9);
  });
});

describe("matrices", () => {
  it("compose, multiply and invert like gl-matrix", () => {
    fc.assert(
      fc.property(
        vector,
        direction,
        angle,
        fc.tuple(
          fc.double({ min: 0.2, max: 3, noNaN: true }),
          fc.double({ min: 0.2, max: 3, noNaN: true }),
          fc.double({ min: 0.2, max: 3, noNaN: true }),
        ),
        (t, u, a, s) => {
          const q = fromAxisAngle(u, a);
          const m = identityMat4();
          composeTRS(m, 0, t, q, s);
          const theirs = mat4.fromRotationTranslationScale(
            new Float64Array(16) as unknown as mat4,
            q as unknown as quat,
            t as unknown as vec3,
            s as unknown as vec3,
          ) as unknown as Float64Array;
          near([...m], theirs);
          const inverse = identityMat4();
          expect(invertAffine(inverse, 0, m, 0)).toBe(true);
          const product = identityMat4();
          multiplyMat4(product, 0, m, 0, inverse, 0);
          near([...product], identityMat4(), 1e-8);
          const parts = decomposeTRS(m, 0);
          near(parts.t, t);
          near(parts.s, s, 1e-6);
          expect(angleBetweenQuats(parts.q, q)).toBeLessThan(1e-4);
        },
      ),
    );
  });
  it("say when there is no inverse", () => {
    const flat = identityMat4();
    composeTRS(flat, 0, [0, 0, 0], [0, 0, 0, 1], [1, 0, 1]);
    expect(invertAffine(identityMat4(), 0, flat, 0)).toBe(false);
  });
  it("carry points", () => {
    const m = identityMat4();
    composeTRS(m, 0, [1, 2, 3], fromAxisAngle([0, 0, 1], 90), [2, 2, 2]);
    near(transformPoint(m, 0, [1, 0, 0]), [1, 4, 3]);
  });
});

describe("singular values of a 3x3 matrix", () => {
  it("are those of its Gram matrix, largest first, with an orthonormal frame", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 9, maxLength: 9 }), (m) => {
        const { sigma, v } = svd3(m);
        expect(sigma[0]).toBeGreaterThanOrEqual(sigma[1] - 1e-12);
        expect(sigma[1]).toBeGreaterThanOrEqual(sigma[2] - 1e-12);
        const frame = [0, 1, 2].map((k) => [v[3 * k]!, v[3 * k + 1]!, v[3 * k + 2]!] as Vec3);
        frame.forEach((a, i) => frame.forEach((b, j) => expect(dot(a, b)).toBeCloseTo(i === j ? 1 : 0, 6)));
        // |M v| is the singular value (column-major M)
        frame.forEach((a, k) =>
          expect(
            length([0, 1, 2].map((r) => m[r]! * a[0] + m[3 + r]! * a[1] + m[6 + r]! * a[2]) as unknown as Vec3),
          ).toBeCloseTo(sigma[k]!, 5),
        );
        expect(sigma.reduce((n, s) => n + s * s, 0)).toBeCloseTo(
          m.reduce((n, x) => n + x * x, 0),
          5,
        );
      }),
    );
  });
});
