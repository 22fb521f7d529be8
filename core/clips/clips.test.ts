import { loadMember } from "../../demo/cast";
import { foreignClip } from "../../demo/clips/foreignClip";
import { bringAdditions, type Addition } from "../intake/bringAdditions";
import { addClip, encodeAdded } from "../intake/addThings";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { readDelivery } from "../intake/readDelivery";
import { writeBvh } from "../formats/bvh/writeBvh";
import { writeGlb } from "../formats/glb/writeGlb";
import { translationOf } from "../math/mat4";
import { degrees, dot, normalize, sub, type Vec3 } from "../math/vec3";
import type { Character, Clip, WeightTrack } from "../model/character";
import { armsAt, rebind } from "../skeleton/rebind";
import { renameJoints } from "../skeleton/renameJoints";
import { legsAt } from "../skeleton/restPoses";
import { spaceTurns } from "../skeleton/retargetPose";
import { humanoidMap } from "../skeleton/humanoidMap";
import { hingeAxisError, HINGE_CHAINS } from "../checks/skeleton/skeletonHingeAxis";
import { clipMatrices } from "../evaluate/clipMatrices";
import { weightsTable } from "./weightsTable";

const oda = await loadMember("oda");
const walk = oda.clips.find((c) => c.name === "walk")!;
const bare = (c: Character, clip: Clip): Character => ({
  ...c,
  parts: [],
  materials: [],
  shapes: [],
  drivers: [],
  shapeDrivers: [],
  clips: [clip],
  mixes: [],
});
const without: Character = { ...oda, clips: [] };
const place = (c: Character, clip: Clip, t: number, joint: string): Vec3 =>
  translationOf(clipMatrices(c.skeleton!, clip, t), 16 * c.skeleton!.joints.findIndex((j) => j.name === joint));
const clipIn = (list: readonly Addition[]): Extract<Addition, { what: "clip" }> =>
  list.find((a) => a.what === "clip") as Extract<Addition, { what: "clip" }>;

describe("a clip whose joints carry a prefix", () => {
  const prefixed = renameJoints(oda, new Map(oda.skeleton!.joints.map((j) => [j.name, `hero:${j.name}`])));
  const its = prefixed.clips.find((c) => c.name === "walk")!;
  it("moves every joint as BVH: twists, breath and tongue too", async () => {
    const { additions } = await bringAdditions(without, [
      { name: "walk.bvh", bytes: new TextEncoder().encode(writeBvh(prefixed.skeleton!, its, { unitsPerMetre: 100 })) },
    ]);
    const { clip, note } = clipIn(additions);
    expect(note).toMatch(new RegExp(`^${oda.skeleton!.joints.length} of its ${oda.skeleton!.joints.length} joints`));
    expect(new Set(clip.tracks.map((t) => t.joint))).toEqual(new Set(oda.skeleton!.joints.map((j) => j.name)));
    for (const joint of ["leftHand", "rightFoot", "tongue3"])
      place(oda, clip, 0.4, joint).forEach((x, c) => expect(x).toBeCloseTo(place(oda, walk, 0.4, joint)[c]!, 3));
  });
  it("keeps its keys as they are from a GLB of the same rest", async () => {
    const { additions } = await bringAdditions(without, [
      { name: "walk.glb", bytes: await writeGlb(bare(prefixed, its)) },
    ]);
    const { clip, note } = clipIn(additions);
    expect(note).toBe(`${walk.tracks.length} of its ${walk.tracks.length} tracks fit`);
    expect(clip.tracks.map((t) => [t.joint, t.path, t.values])).toEqual(
      walk.tracks.map((t) => [t.joint, t.path, t.values]),
    );
    expect(additions.length).toBe(1);
  });
});

describe("a GLB of clips alone", () => {
  it("is taken with a character, and added to one", async () => {
    const files = [
      { name: "oda.glb", bytes: await writeGlb(without) },
      { name: "walk.glb", bytes: await writeGlb(bare(oda, walk)) },
    ];
    expect((await readDelivery(files)).character.clips.map((c) => c.name)).toEqual(["walk"]);
    const { additions } = await bringAdditions(without, files.slice(1));
    expect(addClip(without, encodeAdded(clipIn(additions).clip)).clips[0]!.tracks.length).toBe(walk.tracks.length);
  });
  it("is no character by itself, and says where it goes", async () => {
    await expect(readDelivery([{ name: "walk.glb", bytes: await writeGlb(bare(oda, walk)) }])).rejects.toThrow(
      /holds clips alone: add it to a character/,
    );
    await expect(
      readDelivery(
        await Promise.all(["a.glb", "b.glb"].map(async (name) => ({ name, bytes: await writeGlb(bare(oda, walk)) }))),
      ),
    ).rejects.toThrow(/clips came alone/);
  });
  it("of another skeleton, in centimetres and from a T rest, is carried, with what differs said plainly", async () => {
    const bytes = await writeGlb(foreignClip(oda, walk));
    const before = clipIn((await bringAdditions(without, [{ name: "walk.glb", bytes }])).additions);
    expect(before.note).toMatch(
      /lengths x 0.01; at rest its (left|right) (upper|lower) arm stands 40 degrees from here: brought together/,
    );
    const limb = (k: Clip, t: number): Vec3 =>
      normalize(sub(place(oda, k, t, "leftHand"), place(oda, k, t, "leftUpperArm")));
    for (const t of [0, 0.5])
      expect(degrees(Math.acos(Math.min(1, dot(limb(before.clip, t), limb(walk, t)))))).toBeLessThan(1);
    const pose = armsAt(oda, 0);
    const set = { ...without, retargetPose: spaceTurns(oda.skeleton!, pose) };
    const { clip, note } = clipIn((await bringAdditions(set, [{ name: "walk.glb", bytes }])).additions);
    expect(note).not.toMatch(/at rest/);
    for (const t of [0, 0.3, 0.7]) {
      for (const joint of ["leftFoot", "head"])
        place(oda, clip, t, joint).forEach((x, c) => expect(x).toBeCloseTo(place(oda, walk, t, joint)[c]!, 3));
      const arm = (k: Clip): Vec3 => normalize(sub(place(oda, k, t, "leftHand"), place(oda, k, t, "leftUpperArm")));
      expect(degrees(Math.acos(Math.min(1, dot(arm(clip), arm(walk)))))).toBeLessThan(6);
    }
  });
});

describe("clips of a character bound anew in another rest", () => {
  const pose = legsAt(oda, 8, 12, {
    ...armsAt(oda, 10),
    spine: [4, 0, 0],
    neck: [0, 6, 0],
    leftShoulder: [0, 0, 5],
    head: [6, 0, 0],
  });
  const bound = rebind(oda, pose);
  it("stand where they stood, to a tenth of a millimetre, also at joints without keys", () => {
    for (const clip of oda.clips) {
      const again = bound.clips.find((c) => c.name === clip.name)!;
      const length = Math.max(...clip.tracks.map((t) => t.times[t.times.length - 1]!));
      for (const t of [0, length / 3, length]) {
        const [a, b] = [clipMatrices(oda.skeleton!, clip, t), clipMatrices(bound.skeleton!, again, t)];
        oda.skeleton!.joints.forEach((_, j) =>
          translationOf(a, 16 * j).forEach((x, c) =>
            expect(Math.abs(x - translationOf(b, 16 * j)[c]!)).toBeLessThan(1e-4),
          ),
        );
      }
    }
  });
  it.each([
    [0, 3],
    [5, 4],
    [8, 12],
    [20, 10],
    [-5, 20],
  ])("keep the hinges of both knees square to their legs: apart by %d, bent by %d degrees", (spread, bend) => {
    const { skeleton } = rebind(oda, legsAt(oda, spread, bend));
    const world = worldMatrices(skeleton!, {});
    const map = humanoidMap(skeleton!);
    for (const chain of HINGE_CHAINS.filter((c) => c[0].endsWith("UpperLeg")))
      expect(
        hingeAxisError(world, chain.map((b) => map.jointOfBone.get(b)!) as unknown as [number, number, number]) ?? 0,
      ).toBeLessThan(1);
  });
});

describe("weights of shapes as a table", () => {
  it("have a column a shape and sixty rows a second, quoted, led over straight", () => {
    const track = (shape: string, values: number[]): WeightTrack => ({
      shape,
      interpolation: "LINEAR",
      times: Float32Array.of(0, 0.1),
      values: Float32Array.from(values),
    });
    const rows = weightsTable([track("smile", [0, 0.6]), track('"odd", name', [1, 0])], 0.1)
      .trimEnd()
      .split("\n");
    expect(rows[0]).toBe('seconds,"smile","""odd"", name"');
    expect(rows).toHaveLength(8);
    expect(rows[4]).toBe("0.0500,0.3000,0.5000");
  });
});
