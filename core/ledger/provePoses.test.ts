import { loadMember } from "../../demo/cast";
import { readGlb } from "../formats/glb/readGlb";
import { bakeMix } from "../shapes/bakeMix";
import { withoutShapes } from "../shapes/withoutShapes";
import type { Character } from "../model/character";
import { provePoses, writeWithoutShapes } from "./provePoses";

const oda = await loadMember("oda");
const build = oda.shapes.find((s) => s.jointOffsets)!;
/** One clip is enough: every other goes the same way. */
const figure: Character = { ...oda, clips: oda.clips.filter((c) => c.name === "walk") };

describe("a figure without shapes", () => {
  it("holds every pose and clip of the one with them to 0.01 mm, as it rests", async () => {
    const { glb, proved } = await writeWithoutShapes(figure, {});
    expect((await readGlb(glb, "oda")).shapes).toEqual([]);
    expect(proved.clips).toBe(1);
    expect(proved.moments).toBeGreaterThan(60);
    expect(proved.jointMm).toBeLessThan(0.01);
    expect(proved.vertexMm).toBeLessThan(0.01);
  });

  it("holds them where a build that carries joints is at work", async () => {
    const weights = { [build.name]: 0.7 };
    const { glb, proved } = await writeWithoutShapes(figure, weights);
    const plain = await readGlb(glb, "oda");
    const moved = plain.skeleton!.joints.filter((j, i) =>
      j.translation.some((x, c) => Math.abs(x - figure.skeleton!.joints[i]!.translation[c]!) > 1e-4),
    );
    expect(moved.length).toBeGreaterThan(0);
    expect(proved.jointMm).toBeLessThan(0.01);
    expect(proved.vertexMm).toBeLessThan(0.01);
    // the offsets stand in the rest, not in keys: the pelvis alone has keys of place
    const places = plain.clips[0]!.tracks.filter((t) => t.path === "translation").map((t) => t.joint);
    const before = figure.clips[0]!.tracks.filter((t) => t.path === "translation").map((t) => t.joint);
    expect(places).toEqual(before);
  });

  it("is told apart from one whose joints or skin stand elsewhere", async () => {
    const whole = withoutShapes(figure, { [build.name]: 0.7 });
    const wrong = await provePoses(figure, { [build.name]: 0.8 }, whole);
    expect(wrong.jointMm).toBeGreaterThan(0.1);
    expect(wrong.vertexMm).toBeGreaterThan(0.1);
  });

  it("bakes a build without leaving a clip's pelvis at its old height", () => {
    const baked = bakeMix(figure, { [build.name]: 1 }, false);
    const key = (c: Character): number =>
      c.clips[0]!.tracks.find((t) => t.path === "translation")!.values[1]! -
      c.skeleton!.joints.find((j) => j.name === c.clips[0]!.tracks.find((t) => t.path === "translation")!.joint)!
        .translation[1];
    expect(key(baked)).toBeCloseTo(key(figure), 5);
  });
});
