import { loadMember, loadOda } from "../../../demo/cast";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import type { Character, Shape } from "../../model/character";
import { shapeOf, tube } from "../../../tests/helpers/characters";
import { PROFILES } from "../profile";
import { runChecks } from "../runChecks";
import type { Finding } from "../finding";

const found = async (c: Character): Promise<Finding[]> =>
  (await runChecks(c, PROFILES.film, { only: ["shapes.pose-baked"] })).findings;
/** What a pose does to the mesh, as a shape: the fault itself. */
function asShape(c: Character, pose: Record<string, [number, number, number]>, name = "baked"): Shape {
  const P = c.parts[0]!.positions;
  const posed = deform(makeRig(c), { ...REST_MOMENT, pose, drivers: false }, { normals: false }).positions[0]!;
  const moved = Array.from({ length: P.length / 3 }, (_, v) => v).filter((v) =>
    [0, 1, 2].some((k) => Math.abs(posed[3 * v + k]! - P[3 * v + k]!) > 1e-6),
  );
  return {
    name,
    label: name,
    deltas: [
      {
        part: 0,
        vertices: Uint32Array.from(moved),
        deltas: Float32Array.from(moved.flatMap((v) => [0, 1, 2].map((k) => posed[3 * v + k]! - P[3 * v + k]!))),
      },
    ],
  };
}

describe("poses that went into shapes", () => {
  const limb = tube();
  it.each([5, 15, 30])("are found at %d degrees, with the joint", async (degrees) => {
    const [finding] = await found({ ...limb, shapes: [asShape(limb, { lower: [degrees, 0, 0] })] });
    expect(finding).toMatchObject({ shape: "baked", joint: "lower", severity: "warn" });
    // a small turn is a turn wholly; a large one leaves what a straight line cannot follow
    expect(finding!.value).toBeGreaterThan(degrees < 10 ? 99 : 85);
  });
  it("are not seen in what is no turn: a bulge, a thickening all round", async () => {
    const P = limb.parts[0]!.positions;
    const thick = Object.fromEntries(
      Array.from({ length: 700 }, (_, v) => [v, [0.2 * P[3 * v]!, 0, 0.2 * P[3 * v + 2]!] as const]),
    );
    expect(
      await found({ ...limb, shapes: [shapeOf("bulge", { 600: [0.02, 0, 0] }), shapeOf("thick", thick)] }),
    ).toEqual([]);
  });
  it("are not looked for where a joint drives the shape", async () => {
    const baked = asShape(limb, { lower: [20, 0, 0] });
    expect(
      await found({
        ...limb,
        shapes: [baked],
        drivers: [
          {
            shape: "baked",
            joint: "lower",
            axis: [1, 0, 0],
            fromDegrees: 0,
            toDegrees: 90,
            easing: "linear",
            intensity: 1,
            enabled: true,
          },
        ],
      }),
    ).toEqual([]);
  });
  it("a smile exported with the arm raised is found on Oda, and nothing on the clean cast", async () => {
    const oda = await loadOda();
    expect(await found(oda)).toEqual([]);
    expect(await found(await loadMember("wick"))).toEqual([]);
    const body = oda.parts.findIndex((p) => p.kind === "body");
    const one = { ...oda, parts: [oda.parts[body]!], shapes: [] as Shape[] };
    const [finding] = await found({
      ...one,
      shapes: [asShape(one, { leftUpperArm: [0, 0, 12] }, "smile with the arm raised")],
    });
    expect(finding).toMatchObject({ joint: expect.stringMatching(/^left(UpperArm|Shoulder)$/) as string });
    expect(finding!.value).toBeGreaterThan(90);
  });
});
