import { twistDegrees, fromAxisAngle, IDENTITY_QUAT } from "../../math/quat";
import { poseDriverSchema } from "../../formats/poseDrivers";
import type { PoseDriver } from "../poseDriver";
import { jointsRead, kindOf, namesRead, renamedTerm, shapesRead, TERM_KINDS, type DriverTerm } from "./driverTerms";
import { UNCHANGED } from "./jointChange";
import type { TermView } from "./termKind";

const HUMP = [
  { degrees: 0, weight: 0 },
  { degrees: 70, weight: 1 },
  { degrees: 120, weight: 0.2 },
];
/** One of every kind: the compiler asks for a new one here. */
const ONE: { readonly [K in DriverTerm["kind"]]: Extract<DriverTerm, { kind: K }> } = {
  angle: { kind: "angle", joint: "elbow", axis: [1, 0, 0], points: HUMP, between: "smooth" },
  direction: {
    kind: "direction",
    joint: "elbow",
    along: [0, 1, 0],
    towards: [0, 0, 1],
    fullDegrees: 20,
    noneDegrees: 60,
    twist: { fromDegrees: -20, toDegrees: 20, fadeDegrees: 40 },
  },
  weight: { kind: "weight", shape: "effort", atNone: 0.4 },
};
const KINDS = Object.keys(TERM_KINDS) as DriverTerm["kind"][];
const driverOf = (term: DriverTerm): PoseDriver => ({
  shape: "swell",
  terms: [term],
  rule: "product",
  group: "muscle",
  intensity: 1,
  enabled: true,
});

describe.each(KINDS)("a term by %s", (kind) => {
  const term: DriverTerm = ONE[kind];
  const [read] = namesRead([term]);

  test("reads one thing, a joint or a shape, and takes its new name", () => {
    expect([...jointsRead([term]), ...shapesRead([term])]).toEqual([read]);
    const to = renamedTerm(term, { joint: (own) => `j ${own}`, shape: (own) => `s ${own}` });
    expect(namesRead([to])).toEqual([`${jointsRead([term]).length ? "j" : "s"} ${read}`]);
    const back = renamedTerm(to, { joint: (own) => own.slice(2), shape: (own) => own.slice(2) });
    expect(back).toEqual(term);
  });

  test("counts 1 where it says that it is at its most, less at rest", () => {
    const most = kindOf(term).atMost(term);
    const at: TermView = {
      turn: (joint) => ("joint" in most && joint === most.joint ? most.turn : IDENTITY_QUAT),
      weight: (shape) => ("shape" in most && shape === most.shape ? most.weight : 0),
    };
    const value = kindOf(term).ready(term);
    expect(value(at)).toBeCloseTo(1, 9);
    expect(value({ turn: () => IDENTITY_QUAT, weight: () => 0 })).toBeLessThan(0.5);
  });

  test("is written and read again; a number that is none is refused", () => {
    const driver = driverOf(term);
    expect(poseDriverSchema.parse(JSON.parse(JSON.stringify(driver)))).toEqual(driver);
    const spoiled = JSON.parse(JSON.stringify(driver), (_, x: unknown) =>
      x === 0.4 || x === 70 || x === 60 ? null : x,
    );
    expect(poseDriverSchema.safeParse(spoiled).success).toBe(false);
    expect(kindOf(term).numbers(term).every(Number.isFinite)).toBe(true);
  });
});

test("a curve's angles give way to what the rest pose turned already, about its own axis only", () => {
  const term = ONE.angle;
  const to = kindOf(term).changed(term, (joint) => ({
    ...UNCHANGED,
    joint,
    already: (axis) => twistDegrees(fromAxisAngle([1, 0, 0], 15), axis),
  }));
  expect(to.points.map((p) => Math.round(1000 * p.degrees) / 1000)).toEqual([-15, 55, 105]);
  expect(to.points.map((p) => p.weight)).toEqual([0, 1, 0.2]);
});

test("the limits of a twist are among its numbers", () => {
  const twist = { fromDegrees: Number.NaN, toDegrees: 20, fadeDegrees: 40 };
  expect(
    kindOf(ONE.direction)
      .numbers({ ...ONE.direction, twist })
      .every(Number.isFinite),
  ).toBe(false);
});

test("a cone that ends before it begins is refused", () => {
  const wrong = driverOf({ ...ONE.direction, fullDegrees: 70 });
  expect(poseDriverSchema.safeParse(wrong).success).toBe(false);
});
