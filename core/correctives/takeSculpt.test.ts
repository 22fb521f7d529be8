import { loadOda } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { writeObj } from "../formats/obj/writeObj";
import type { Character } from "../model/character";
import { jointMotions, motionPose } from "../skeleton/jointMotions";
import { humanoidMap } from "../skeleton/humanoidMap";
import { poseDifference, poseNote, readPoseNote } from "./poseNote";
import { movedWords, takeSculpt } from "./takeSculpt";

const oda = await loadOda();
const body = oda.parts.findIndex((p) => p.kind === "body");
const alone: Character = {
  ...oda,
  parts: [oda.parts[body]!],
  shapes: [],
  drivers: [],
  shapeDrivers: [],
  mixes: [],
  clips: [],
};
const rig = makeRig(alone);
const motions = jointMotions(oda.skeleton!, humanoidMap(oda.skeleton!, oda.jointMap));
const elbow = (side: string, degrees: number): Moment => ({
  ...REST_MOMENT,
  pose: motionPose(
    motions.find((m) => m.bone === `${side}LowerArm` && m.name === "bend")!,
    degrees,
  ),
});
const left = elbow("left", 120);
/** The posed mesh with a dent round the left elbow, as a sculptor would send it back. */
const sculpted = (moment: Moment): Float32Array => {
  const P = deform(rig, moment, { normals: false }).positions[0]!.slice();
  for (let v = 0; v < 60; v++) P[3 * v + 1]! += 0.004;
  return P;
};
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const obj = (moment: Moment, note = true, P = sculpted(moment)): Uint8Array =>
  bytes(writeObj(alone, [P], undefined, note ? poseNote(moment) : undefined));

describe("what a posed file says of its pose", () => {
  it("is read back, and compared joint by joint", () => {
    const note = readPoseNote(obj(left))!;
    expect(poseDifference(note, left)).toBeNull();
    expect(poseDifference(note, elbow("right", 90))).toMatch(
      /^it was sent out with leftLowerArm turned .* degrees, and leftLowerArm is at rest now$/,
    );
    expect(poseDifference(note, { ...left, method: "dual" })).toMatch(/linear skinning/);
    expect(poseDifference(note, { ...left, drivers: !left.drivers })).toMatch(/correctives/);
    expect(poseDifference(note, { ...left, weights: { smile: 0.5 } })).toMatch(/smile at 0, and that is 0.5 now/);
  });
  it.each([
    ["nothing", "v 0 0 0\n"],
    ["half a note", '# yxomorph posed {"pose":\n'],
    ["another note", "# yxomorph posed []\n"],
  ])("is nothing for a file with %s", (_, text) => expect(readPoseNote(bytes(text))).toBeNull());
});

describe("a sculpt brought back as a file", () => {
  it("of another pose is refused by its head: the left elbow's at the right elbow", () => {
    expect(() => takeSculpt(rig, elbow("right", 90), obj(left), "left.obj")).toThrow(
      /a sculpt of another pose: it was sent out with leftLowerArm/,
    );
  });
  it("of another pose without a head is doubted, for a turn of a joint explains it", () => {
    const { doubt } = takeSculpt(rig, elbow("right", 90), obj(left, false), "left.obj");
    expect(doubt).toMatch(
      /% of what differs is that whole limbs were turned, (left|right)\w+ most: it looks like a sculpt of another pose/,
    );
    expect(takeSculpt(rig, left, obj(left, false), "left.obj").doubt).toBeNull();
  });
  it("is told by how many vertices moved, how far and where", () => {
    const { moved, residual, deltas } = takeSculpt(rig, left, obj(left), "left.obj");
    expect([moved.vertices, Number(moved.maxMm.toFixed(2)), moved.part]).toEqual([60, 4, alone.parts[0]!.name]);
    expect(oda.skeleton!.joints.map((j) => j.name)).toContain(moved.joint);
    expect(movedWords(moved)).toMatch(/^60 vertices moved by up to 4.0 mm, most of it on .+ round .+\.$/);
    expect(deltas[0]!.vertices.length).toBe(60);
    expect(residual.max).toBeLessThan(0.01);
  });
  it("in centimetres, lying, or with its vertices in another order is set right", () => {
    const P = sculpted(left);
    const centimetres = takeSculpt(
      rig,
      left,
      obj(
        left,
        true,
        P.map((x) => 100 * x),
      ),
      "cm.obj",
    );
    expect(centimetres.notes.join(" ")).toMatch(/centimetres/);
    expect(centimetres.moved.vertices).toBeGreaterThanOrEqual(60);
    const count = P.length / 3;
    const order = Array.from({ length: count }, (_, v) => (v * 7919) % count);
    expect(new Set(order).size).toBe(count);
    const at = new Map(order.map((v, i) => [v, i]));
    const part = alone.parts[0]!;
    const shuffled: Character = {
      ...alone,
      parts: [
        { ...part, uvs: null, colors: null, positions: part.positions, corners: part.corners.map((c) => at.get(c)!) },
      ],
    };
    const Q = new Float32Array(P.length);
    order.forEach((v, i) => Q.set(P.subarray(3 * v, 3 * v + 3), 3 * i));
    const lines = writeObj(
      { ...shuffled, parts: [{ ...shuffled.parts[0]!, skin: null }] },
      [Q],
      undefined,
      poseNote(left),
    );
    const taken = takeSculpt(rig, left, bytes(lines), "order.obj");
    expect(taken.notes.join(" ")).toMatch(/another order/);
    expect(Math.abs(taken.moved.maxMm - 4)).toBeLessThan(0.05);
  });
});
