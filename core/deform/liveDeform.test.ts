import { loadOda } from "../../demo/cast";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { LiveDeform } from "./liveDeform";
import { deform, makeRig } from "./rig";

const oda = await loadOda();
const rig = makeRig(oda);
const named = (parts: readonly number[]): string[] => parts.map((p) => oda.parts[p]!.name);
const moments: Moment[] = [
  { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0] } },
  { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0], head: [10, 20, 0] }, weights: { AU12_left: 1 } },
  { ...REST_MOMENT, pose: { head: [10, 20, 0] }, method: "dual" },
  { ...REST_MOMENT, weights: { proportion_broad: 0.5 }, pose: { rightUpperArm: [0, 0, 40] } },
  REST_MOMENT,
];

describe("a character that is deformed again and again", () => {
  it("stands and is lit at every moment as one that is deformed anew", () => {
    const live = new LiveDeform(rig);
    for (const moment of moments) {
      live.update(rig, moment);
      const anew = deform(rig, moment);
      expect(live.deformed.positions).toEqual(anew.positions);
      expect(live.deformed.normals).toEqual(anew.normals);
      expect(live.deformed.shapeWeights).toEqual(anew.shapeWeights);
    }
  });
  it("makes anew only the parts whose joints or shapes moved", () => {
    const live = new LiveDeform(rig);
    expect(live.update(rig, REST_MOMENT).length).toBe(oda.parts.length);
    expect(live.update(rig, REST_MOMENT)).toEqual([]);
    const bent = named(live.update(rig, { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0] } }));
    expect(bent).toContain("body");
    expect(bent).not.toContain("eye left");
    expect(bent).not.toContain("teeth lower");
    const gaze = named(live.update(rig, { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0], leftEye: [0, 20, 0] } }));
    expect(gaze).toEqual(["eye left"]);
  });
  it("leaves what is not shown until it is, and what somebody else wrote is not believed", () => {
    const live = new LiveDeform(rig);
    const trousers = oda.parts.findIndex((p) => p.name === "trousers");
    const bent = { ...REST_MOMENT, pose: { leftLowerLeg: [60, 0, 0] as const } };
    live.update(rig, REST_MOMENT);
    expect(live.update(rig, bent, (p) => p !== trousers)).not.toContain(trousers);
    expect(live.update(rig, bent)).toEqual([trousers]);
    live.deformed.positions[0]!.fill(0);
    live.forget();
    live.update(rig, bent);
    expect(live.deformed.positions).toEqual(deform(rig, bent).positions);
  });
});
