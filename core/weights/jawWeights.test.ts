import { loadOda } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import type { Character } from "../model/character";
import { shapeMeaning } from "../names/shapeMeaning";
import { addJoint } from "../edits/repairs/addJoint";
import { removeJoints } from "../skeleton/rearrangeJoints";

const oda = await loadOda();
const own = oda.skeleton!.joints.findIndex((j) => j.name === "jaw");
const body = oda.parts.findIndex((p) => p.kind === "body");
const heldBy = (c: Character, joint: string): Float32Array => {
  const j = c.skeleton!.joints.findIndex((x) => x.name === joint);
  const { skin } = c.parts[body]!;
  const n = skin!.influenceCount;
  return Float32Array.from({ length: skin!.joints.length / n }, (_, v) => {
    let sum = 0;
    for (let i = n * v; i < n * v + n; i++) if (skin!.joints[i] === j) sum += skin!.weights[i]!;
    return sum;
  });
};
/**
 * How far the jaw's own unit takes each vertex down, as a share of the farthest: the figure's jaw moves its skin by a
 * shape.
 */
const drops = oda.shapes
  .find((s) => {
    const meaning = shapeMeaning(s.name);
    return meaning?.system === "unit" && meaning.unit === 26;
  })!
  .deltas.find((d) => d.part === body)!;
const shown = new Float32Array(oda.parts[body]!.positions.length / 3);
drops.vertices.forEach((v, k) => (shown[v] = -drops.deltas[3 * k + 1]!));
const most = Math.max(...shown);
shown.forEach((x, v) => (shown[v] = x / most));
const bare: Character = removeJoints({ ...oda, clips: [], drivers: [] }, new Set([own]));

describe("the chin of a jaw that was added", () => {
  it.each([
    ["with shapes that show the lips", bare],
    ["without any shape", { ...bare, shapes: [], shapeDrivers: [], mixes: [] }],
  ])("%s goes with it as the figure's own does", (_what, character) => {
    const added = addJoint(character, "jaw");
    const mine = heldBy(added, "jaw");
    const theirs = shown;
    const P = oda.parts[body]!.positions;
    const chin = [...theirs.keys()].filter((v) => theirs[v]! > 0.85);
    expect(chin.length).toBeGreaterThan(50);
    expect(chin.filter((v) => mine[v]! > 0.7).length / chin.length).toBeGreaterThan(0.85);
    // what the figure's own unit leaves alone stays still: nose, eyes, brow, the back of the head, the body
    const still = [...theirs.keys()].filter((v) => theirs[v]! === 0 && (P[3 * v + 1]! > 1.55 || P[3 * v + 1]! < 1.3));
    expect(Math.max(...still.map((v) => mine[v]!))).toBeLessThan(0.05);
    const sums = added.parts[body]!.skin!;
    for (let v = 0; v < mine.length; v++) {
      let sum = 0;
      for (let k = 0; k < sums.influenceCount; k++) sum += sums.weights[v * sums.influenceCount + k]!;
      expect(Math.abs(sum - 1)).toBeLessThan(1e-4);
    }
  });
  it("opens the mouth: the chin goes down with the lower teeth, the lips come apart", () => {
    const added = addJoint(bare, "jaw");
    const rest = deform(makeRig(added), REST_MOMENT, { normals: false }).positions[body]!;
    const open = deform(
      makeRig(added),
      { ...REST_MOMENT, pose: { jaw: [20, 0, 0] }, drivers: false },
      { normals: false },
    ).positions[body]!;
    const hinge = translationOf(
      worldMatrices(added.skeleton!, {}),
      16 * added.skeleton!.joints.findIndex((j) => j.name === "jaw"),
    );
    const drop = [...Array(rest.length / 3).keys()].map((v) => rest[3 * v + 1]! - open[3 * v + 1]!);
    expect(Math.max(...drop)).toBeGreaterThan(0.02);
    expect(Math.max(...drop)).toBeLessThan(0.05);
    const lowest = drop.indexOf(Math.max(...drop));
    expect(rest[3 * lowest + 2]!).toBeGreaterThan(hinge[2] + 0.05);
  });
});
