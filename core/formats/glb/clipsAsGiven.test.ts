import { tube } from "../../../tests/helpers/characters";
import { playClip } from "../../clips/playClip";
import { evaluate } from "../../evaluate/evaluate";
import { REST_MOMENT } from "../../evaluate/moment";
import { sampleTrack } from "../../evaluate/sampleTrack";
import { turnOf } from "../../evaluate/turns";
import { fromAxisAngle } from "../../math/quat";
import type { Quat, Vec3 } from "../../math/vec3";
import type { ClipTrack } from "../../model/character";
import { readGlb } from "./readGlb";
import { writeGlb } from "./writeGlb";

const limb = tube();
const track = (fields: Partial<ClipTrack>): ClipTrack => ({
  joint: "lower",
  path: "rotation",
  interpolation: "LINEAR",
  times: Float32Array.of(0, 1),
  values: Float32Array.of(0, 0, 0, 1, ...fromAxisAngle([1, 0, 0], 90)),
  ...fields,
});
/** Written as it is, without a look at it, and read. */
const read = async (fields: Partial<ClipTrack>): ReturnType<typeof readGlb> =>
  readGlb(await writeGlb({ ...limb, clips: [{ name: "bend", tracks: [track(fields)] }] }), "x.glb");
const bentAt = async (fields: Partial<ClipTrack>, seconds: number): Promise<number> => {
  const again = await read(fields);
  const moment = { ...REST_MOMENT, sources: [playClip(again, again.clips[0]!, seconds)] };
  const q = turnOf(
    evaluate(again, moment).turns,
    again.skeleton!.joints.findIndex((j) => j.name === "lower"),
  );
  return (2 * Math.acos(Math.min(1, Math.abs(q[3]))) * 180) / Math.PI;
};

describe("clips of a GLB as they are given", () => {
  it("hold a key's value until the next where they are stepped", async () => {
    expect(await bentAt({ interpolation: "STEP" }, 0.99)).toBeCloseTo(0, 4);
    expect(await bentAt({ interpolation: "STEP" }, 1)).toBeCloseTo(90, 3);
  });

  // glTF 2.0 specification, appendix C.5: p(t) = (2t3-3t2+1) v0 + td(t3-2t2+t) b0 + (-2t3+3t2) v1 + td(t3-t2) a1,
  // worked by hand for td = 2, t = 0.5: 0.5 v0 + 0.25 b0 + 0.5 v1 - 0.25 a1
  it("go along cubic splines with tangents times the length of the stretch", async () => {
    const again = await read({
      path: "translation",
      interpolation: "CUBICSPLINE",
      times: Float32Array.of(0, 2),
      values: Float32Array.from(
        [
          [9, 9, 9],
          [1, 0, 0],
          [0.4, 0, 0],
          [0.8, 0, 0],
          [2, 0, 0],
          [9, 9, 9],
        ].flat(),
      ),
    });
    const [x] = sampleTrack(again.clips[0]!.tracks[0]!, 1) as Vec3;
    expect(x).toBeCloseTo(0.5 * 1 + 0.25 * 0.4 + 0.5 * 2 - 0.25 * 0.8, 6);
  });

  it("bring turns to unit length, and say so", async () => {
    const long = fromAxisAngle([1, 0, 0], 90).map((x) => 3 * x) as unknown as Quat;
    const again = await read({ values: Float32Array.of(0, 0, 0, 0.2, ...long) });
    expect(again.notes.join(" ")).toContain("turns of lower brought to unit length");
    expect(await bentAt({ values: Float32Array.of(0, 0, 0, 0.2, ...long) }, 0.5)).toBeCloseTo(45, 3);
  });

  it.each([
    ["a turn of no length", { values: new Float32Array(8) }, /clip bend: Key 0 of lower is a turn of no length/],
    ["times that go back", { times: Float32Array.of(1, 0.5) }, /clip bend: .*comes at 0.5 s, after one at 1 s/],
    ["two keys at one time", { times: Float32Array.of(1, 1) }, /clip bend: .*comes at 1 s, after one at 1 s/],
  ] as const)("are refused with %s, by name and place", async (_what, fields, words) => {
    await expect(read(fields)).rejects.toThrow(words);
  });
});
