import { runChecks } from "../checks/runChecks";
import { PROFILES } from "../checks/profile";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { applyStep } from "../ledger/applyStep";
import { stepSchema } from "../ledger/steps";
import { mend } from "../checks/mend";
import { assertCharacter } from "../model/assertCharacter";
import type { Character, Shape } from "../model/character";
import { shapeOf, tube } from "../../tests/helpers/characters";
import { bakeMix } from "./bakeMix";

const long: Shape = {
  ...shapeOf(
    "long",
    Object.fromEntries(
      Array.from({ length: 794 }, (_, v) => [v, [0, (v >= 384 && v < 792) || v === 793 ? 0.1 : 0, 0] as const]),
    ),
  ),
  jointOffsets: [{ joint: "lower", offset: [0, 0.05, 0] }],
};
const smile = shapeOf("smile", { 300: [0.02, 0, 0] });
const pout = shapeOf("pout", { 300: [0, 0, 0.01], 10: [0.01, 0, 0] });
const both = shapeOf("both", { 300: [0, 0.004, 0] });
const start: Character = {
  ...tube(),
  shapes: [long, smile, pout, both],
  shapeDrivers: [{ shape: "both", of: ["smile", "pout"], rule: "product", enabled: true }],
  drivers: [
    {
      shape: "pout",
      joint: "lower",
      axis: [1, 0, 0],
      fromDegrees: 0,
      toDegrees: 90,
      easing: "linear",
      intensity: 1,
      enabled: true,
    },
  ],
};
const posed = (c: Character, weights: Record<string, number>, pose = {}): Float32Array =>
  deform(makeRig(c), { ...REST_MOMENT, weights, pose }, { normals: false }).positions[0]!;
const apart = (a: Float32Array, b: Float32Array): number => a.reduce((m, x, i) => Math.max(m, Math.abs(x - b[i]!)), 0);

describe("a mix baked into the base", () => {
  it("stands at rest as the mix did, combinations included", () => {
    const weights = { smile: 1, pout: 0.5 };
    const baked = bakeMix(start, weights, true);
    expect(apart(posed(baked, {}), posed(start, weights))).toBeLessThan(1e-6);
    assertCharacter(baked);
  });
  it("leaves every other shape and what drives it, from the new base", () => {
    const baked = bakeMix(start, { smile: 1 }, false);
    expect(baked.shapes.map((s) => s.name)).toEqual(["long", "pout", "both"]);
    expect(baked.drivers).toEqual(start.drivers);
    expect(apart(posed(baked, { pout: 1 }), posed({ ...start, shapeDrivers: [] }, { smile: 1, pout: 1 }))).toBeLessThan(
      1e-6,
    );
  });
  it("takes the joints along where a build carries them, so that a bend is where the build has it", () => {
    const baked = bakeMix(start, { long: 1 }, false);
    expect(baked.skeleton!.joints[1]!.translation[1]).toBeCloseTo(0.35, 6);
    const bend = { lower: [60, 0, 0] as [number, number, number] };
    expect(
      apart(posed({ ...baked, drivers: [] }, {}, bend), posed({ ...start, drivers: [] }, { long: 1 }, bend)),
    ).toBeLessThan(1e-5);
  });
  it("is refused when it is empty or names what is not there", () => {
    expect(() => bakeMix(start, { smile: 0 }, false)).toThrow(/stay as it is/);
    expect(() => bakeMix(start, { gone: 1 }, false)).toThrow(/no shape named gone/);
  });
  it("with its shapes kept is found as playing twice, in a file too, until the shape is removed", async () => {
    const step = stepSchema.parse({ op: "bake", weights: { smile: 0.6 }, keep: true });
    const baked = applyStep(start, step, () => undefined);
    const twice = applyStep(baked, step, () => undefined);
    expect(twice.baked).toEqual([{ shape: "smile", weight: 1.2 }]);
    const found = async (c: Character) => (await runChecks(c, PROFILES.film, { only: ["shapes.double"] })).findings;
    expect(await found(start)).toEqual([]);
    const [finding] = await found(await readGlb(await writeGlb(baked), "b.glb"));
    expect(finding).toMatchObject({ shape: "smile", value: 0.6, severity: "warn" });
    const mended = mend(baked, finding!);
    expect(mended.shapes.map((s) => s.name)).not.toContain("smile");
    expect(await found(mended)).toEqual([]);
  });
});
