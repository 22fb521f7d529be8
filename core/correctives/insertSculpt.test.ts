import { shapeOf, tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import type { Character, ShapeDelta } from "../model/character";
import { correctiveFromSculpt } from "./correctiveFromSculpt";
import { insertSculpt } from "./insertSculpt";

const limb = tube();
const AXIS = [1, 0, 0] as const;
const ring = (r: number): number[] => Array.from({ length: 24 }, (_, s) => 24 * r + s);
/** A sculpt of an angle: the posed limb with some rings moved; every angle another. */
const sculptAt = (character: Character, degrees: number, r: number, by: number): Float32Array[] => {
  const posed = deform(
    makeRig({ ...limb }),
    { ...REST_MOMENT, pose: { lower: [degrees, 0, 0] } },
    { normals: false },
  ).positions.map((P) => P.slice());
  for (const v of [...ring(r), ...ring(r + 1)]) posed[0]![3 * v]! += by;
  expect(character.parts.length).toBe(1);
  return posed;
};
const SCULPTS: Record<number, Float32Array[]> = {
  60: sculptAt(limb, 60, 16, 0.006),
  90: sculptAt(limb, 90, 15, -0.008),
  120: sculptAt(limb, 120, 17, 0.012),
};

function kept(character: Character, degrees: number): Character {
  const moment = { ...REST_MOMENT, pose: { lower: [degrees, 0, 0] as const }, drivers: true };
  const made = correctiveFromSculpt(makeRig(character), moment, SCULPTS[degrees]!);
  const { deltas, fromDegrees, edits, met } = insertSculpt(character, "lower", AXIS, degrees, made.deltas);
  for (const m of met) expect(m.mm).toBeLessThan(0.01);
  const edited = new Map(edits.map((e) => [e.name, e]));
  return {
    ...character,
    shapes: [
      ...character.shapes.map((s) =>
        edited.has(s.name) ? { ...s, deltas: edited.get(s.name)!.deltas as ShapeDelta[] } : s,
      ),
      { ...shapeOf(`at ${degrees}`, {}), deltas: deltas as ShapeDelta[] },
    ],
    drivers: [
      ...character.drivers.map((d) =>
        edited.get(d.shape)?.fromDegrees != null ? { ...d, fromDegrees: edited.get(d.shape)!.fromDegrees! } : d,
      ),
      {
        shape: `at ${degrees}`,
        joint: "lower",
        axis: AXIS,
        fromDegrees,
        toDegrees: degrees,
        easing: "smooth",
        intensity: 1,
        enabled: true,
      },
    ],
  };
}

describe("sculpts at several angles of one joint", () => {
  it.each([[[60, 90, 120]], [[90, 60, 120]], [[120, 90, 60]], [[120, 60, 90]], [[90, 120, 60]]])(
    "are all met, in whatever order they are made: %s",
    (order) => {
      const character = order.reduce(kept, limb);
      for (const degrees of [60, 90, 120]) {
        const { positions } = deform(
          makeRig(character),
          { ...REST_MOMENT, pose: { lower: [degrees, 0, 0] }, drivers: true },
          { normals: false },
        );
        positions[0]!.forEach((x, i) => expect(Math.abs(x - SCULPTS[degrees]![0]![i]!)).toBeLessThan(1e-5));
      }
      // and rest is rest
      deform(makeRig(character), { ...REST_MOMENT, drivers: true }, { normals: false }).positions[0]!.forEach((x, i) =>
        expect(x).toBeCloseTo(limb.parts[0]!.positions[i]!, 7),
      );
    },
  );
  it("set in where the last ends; the first at four tenths of its angle", () => {
    const character = [60, 90, 120].reduce(kept, limb);
    expect(character.drivers.map((d) => [d.fromDegrees, d.toDegrees])).toEqual([
      [24, 60],
      [60, 90],
      [90, 120],
    ]);
  });
  it("the other way, and about another axis, leave each other alone", () => {
    const character = kept(limb, 90);
    expect(insertSculpt(character, "lower", AXIS, -40, []).edits).toEqual([]);
    expect(insertSculpt(character, "lower", [0, 1, 0], 60, []).met).toEqual([]);
    // a driver that counts the other way round is the same axis
    const turned = {
      ...character,
      drivers: character.drivers.map((d) => ({
        ...d,
        axis: [-1, 0, 0] as const,
        fromDegrees: -d.fromDegrees,
        toDegrees: -d.toDegrees,
      })),
    };
    expect(insertSculpt(turned, "lower", AXIS, 60, []).edits[0]).toMatchObject({ name: "at 90", fromDegrees: -60 });
  });
});
