import { loadMember } from "../../demo/cast";
import { makeRig } from "../deform/rig";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { SECONDS_A_MOTION, TORN_MM, walkAt, walkThrough } from "./walkThrough";

describe("the walk through every motion", () => {
  const rowsOf = async (id: string): Promise<Awaited<ReturnType<typeof walkThrough>>> => {
    const c = await loadMember(id);
    return walkThrough(makeRig(c), jointMotions(c.skeleton!, humanoidMap(c.skeleton!, c.jointMap)), "linear");
  };
  it("finds the island of hair on the arm, at a motion of that arm, before all else", async () => {
    const [worst] = await rowsOf("oda-delivery-1");
    expect(worst).toMatchObject({ part: "hair", label: expect.stringContaining("upper arm") as string });
    expect(worst!.longerMm).toBeGreaterThan(100);
  });
  it("finds nothing torn on the clean child", async () =>
    expect((await rowsOf("wick")).filter((r) => r.longerMm > TORN_MM)).toEqual([]));
});

describe("the walk's timing", () => {
  const motion = (id: string, min: number, max: number): Parameters<typeof walkAt>[0][number] => ({
    id,
    joint: id,
    bone: "head",
    name: "nod",
    label: id,
    axis: [1, 0, 0],
    min,
    max,
  });
  const motions = [motion("a", -30, 60), motion("b", 0, 90)];
  it.each([
    [0, "a", 0],
    [SECONDS_A_MOTION / 4, "a", 60],
    [SECONDS_A_MOTION / 2, "a", 0],
    [0.75 * SECONDS_A_MOTION, "a", -30],
    [1.5 * SECONDS_A_MOTION, "b", 90],
    [99, "b", 0],
    [-1, "a", 0],
  ] as const)("at %f s is at %s, %f degrees", (t, id, degrees) => {
    const at = walkAt(motions, t)!;
    expect([at.motion.id, Number(at.degrees.toFixed(6)) + 0]).toEqual([id, degrees]);
  });
  it("is nowhere without motions", () => expect(walkAt([], 1)).toBeNull());
});
