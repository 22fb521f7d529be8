import { loadMember } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { clothOverMotions } from "../measure/clothThrough";
import { applyStep } from "../ledger/applyStep";
import { encodeDeltas } from "../ledger/deltasBlob";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, type JointMotion } from "../skeleton/jointMotions";
import { pushCloth, type ClothPlace } from "./pushCloth";
import { pushClothOver } from "./pushClothOver";

const tarn = await loadMember("tarn");
const rig = makeRig(tarn);
const motions = jointMotions(tarn.skeleton!, humanoidMap(tarn.skeleton!, tarn.jointMap));
const place = (garment: string, motion: JointMotion, degrees: number): ClothPlace => ({
  garment: tarn.parts.findIndex((p) => p.name === garment),
  motion,
  degrees,
  method: "linear",
  name: "push",
});

describe("cloth pushed off the skin", () => {
  it.each(["left upper leg out", "right upper leg out", "left upper leg forward", "right upper leg forward"])(
    "%s: lies over the skin again, along the whole motion, and rest is as it was",
    async (label) => {
      const motion = motions.find((m) => m.label === label)!;
      const [row] = (await clothOverMotions(rig, [motion], 5, "linear")).filter((r) => r.garment === "trousers");
      expect(row!.depthMm).toBeGreaterThan(5);
      const made = pushCloth(rig, place("trousers", motion, row!.angle))!;
      expect(made.beforeMm).toBeCloseTo(row!.depthMm, 3);
      expect(made.afterMm).toBeLessThan(2);
      expect(made.driver).toMatchObject({ joint: row!.joint, toDegrees: Math.round(row!.angle), method: "linear" });
      const bytes = encodeDeltas(tarn, made.shape.deltas);
      const after = applyStep(
        tarn,
        {
          op: "make correctives",
          items: [
            {
              name: "push",
              label: "push",
              blob: "a".repeat(64),
              driver: { ...made.driver, axis: [...made.driver.axis] },
            },
          ],
        },
        () => bytes,
      );
      const again = await clothOverMotions(makeRig(after), [motion], 9, "linear");
      expect(again.find((r) => r.garment === "trousers")?.depthMm ?? 0).toBeLessThan(5);
      const [a, b] = [rig, makeRig(after)].map(
        (r) => deform(r, { ...REST_MOMENT, drivers: true }, { normals: false }).positions,
      );
      a!.forEach((P, p) => expect(b![p]).toEqual(P));
    },
  );
  it("along a whole motion leaves nothing over the limit, with as few as do it, each on top of those before", async () => {
    const motion = motions.find((m) => m.label === "left upper leg forward")!;
    const [row] = (await clothOverMotions(rig, [motion], 5, "linear")).filter((r) => r.garment === "trousers");
    const made = await pushClothOver(rig, place("trousers", motion, row!.angle), 5);
    expect(made.length).toBeGreaterThan(0);
    expect(made.length).toBeLessThanOrEqual(4);
    const corrected = {
      ...tarn,
      shapes: [...tarn.shapes, ...made.map((m) => m.shape)],
      drivers: [...tarn.drivers, ...made.map((m) => m.driver)],
    };
    const again = await clothOverMotions(makeRig(corrected), [motion], 13, "linear");
    const left = again.find((r) => r.garment === "trousers")?.depthMm ?? 0;
    expect(left).toBeCloseTo(made.at(-1)!.afterMm, 3);
    expect(left).toBeLessThanOrEqual(5);
  });
  it("never makes it worse: in a fold, where skin lies in skin, it helps or is none", async () => {
    for (const row of (await clothOverMotions(rig, motions, 3, "linear")).filter((r) => r.depthMm > 5).slice(0, 4)) {
      const made = pushCloth(
        rig,
        place(
          row.garment,
          motions.find((m) => m.id === row.motion)!,
          row.angle,
        ),
      );
      if (made) expect(made.afterMm).toBeLessThan(row.depthMm);
    }
  });
  it("is none where nothing comes through", () => expect(pushCloth(rig, place("trousers", motions[0]!, 0))).toBeNull());
});
