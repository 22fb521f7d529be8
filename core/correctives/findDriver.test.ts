import { loadMember } from "../../demo/cast";
import { makeRig } from "../deform/rig";
import { dot } from "../math/vec3";
import { makeJointGauge, type JointGauge } from "../measure/measureJoint";
import type { Character } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { findDriver, loneShapes, type FoundDriver } from "./findDriver";

const wick = await loadMember("wick");
/** Wick as a file has him that says nothing of drivers. */
const bare: Character = { ...wick, drivers: [] };
const humanoid = humanoidMap(wick.skeleton!, wick.jointMap);
const motions = jointMotions(wick.skeleton!, humanoid);
const rig = makeRig(bare);
const gauges = new Map<string, JointGauge | null>();
const gaugeOf = (name: string): JointGauge | null => {
  if (!gauges.has(name))
    gauges.set(
      name,
      makeJointGauge(
        rig,
        wick.skeleton!.joints.findIndex((j) => j.name === name),
      ),
    );
  return gauges.get(name)!;
};
function find(shape: string): FoundDriver | null {
  const steps = findDriver(
    bare,
    gaugeOf,
    motions,
    wick.shapes.find((s) => s.name === shape)!,
  );
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

describe("drivers of Wick's correctives, taken away and found by measuring", () => {
  it("are asked for by all of them and by no shape of the face", () =>
    expect(new Set(loneShapes(bare, humanoid).map((s) => s.name))).toEqual(new Set(wick.drivers.map((d) => d.shape))));
  it("none is asked for while they are there", () => expect(loneShapes(wick, humanoid)).toEqual([]));
  it("name the joint and the motion, most within 10 degrees, and no wrong joint is certain", () => {
    // every third of the left side; of all 60 the joint and motion of 58 are right, 50 within 10 degrees
    const some = wick.drivers.filter((d) => d.shape.includes("left")).filter((_, i) => i % 3 === 0);
    expect(some.length).toBeGreaterThanOrEqual(9);
    let [right, near] = [0, 0];
    for (const driver of some) {
      const own = motions.find((m) => m.joint === driver.joint && Math.abs(dot(m.axis, driver.axis)) > 0.9)!;
      const found = find(driver.shape);
      const to = Math.sign(dot(own.axis, driver.axis)) * driver.toDegrees;
      if (found?.certain) expect(found.motion.joint).toBe(own.joint);
      if (found?.motion.id !== own.id) continue;
      right++;
      if (Math.abs(found.driver.toDegrees - to) <= 10) near++;
      expect(found.gain).toBeGreaterThan(0);
      expect(Math.abs(found.driver.fromDegrees)).toBeLessThan(Math.abs(found.driver.toDegrees));
    }
    expect(right).toBeGreaterThanOrEqual(some.length - 1);
    expect(near).toBeGreaterThanOrEqual(0.7 * some.length);
  });
  it("are none for a shape that no joint bends", () => {
    const body = wick.parts.findIndex((p) => p.kind === "body");
    const { positions } = wick.parts[body]!;
    const top = Math.max(...positions.filter((_, i) => i % 3 === 1));
    const crown = Uint32Array.from({ length: positions.length / 3 }, (_, v) => v).filter(
      (v) => positions[3 * v + 1]! > top - 0.02,
    );
    expect(crown.length).toBeGreaterThan(3);
    const deltas = new Float32Array(3 * crown.length).fill(0.002);
    const lone = { name: "crown", label: "crown", deltas: [{ part: body, vertices: crown, deltas }] };
    expect(findDriver(bare, gaugeOf, motions, lone).next()).toEqual({ done: true, value: null });
  });
});
