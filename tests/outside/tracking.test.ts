import { OneEuroFilter } from "1eurofilter";
import fc from "fast-check";
import { AnimationMixer, LoopOnce, Vector3, type AnimationClip, type Group, type SkinnedMesh } from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import websocket from "websocket";
import { loadMember } from "../../demo/cast";
import { takeCsv, TAKES } from "../../demo/takes/takes";
import { startStandIn } from "../../demo/takes/trackerStandIn";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { deform, makeRig } from "../../core/deform/rig";
import { keysNeeded } from "../../core/math/keysNeeded";
import { OneEuro } from "../../core/tracking/oneEuro";
import { readTake } from "../../core/tracking/readTake";
import { StreamReader } from "../../core/tracking/streamReader";
import { takeOfFrames, takeTable } from "../../core/tracking/take";
import { bakeTrial } from "../../core/trials/bakeTrial";
import { linePiece } from "../../core/trials/linePiece";
import { momentAt } from "../../core/trials/momentAt";
import { speakPiece, speakTrial } from "../../core/trials/speakTrial";
import { plainSettings, takePiece } from "../../core/trials/takePiece";
import { clipPiece, emptyTrial, trialFrames, type Trial } from "../../core/trials/trial";
import type { Character } from "../../core/model/character";
import { sayLine } from "../../voice/sayLine";
import { randomFrom } from "../helpers/random";
import { threeInNode } from "../helpers/threeInNode";

threeInNode();

const takeNamed = (name: string): ReturnType<typeof readTake>["take"] =>
  readTake(new TextEncoder().encode(takeCsv(TAKES.find((t) => t.hello.take === name)!)), `${name}.csv`).take;

describe("the One Euro filter against npm 1eurofilter (the authors' own TypeScript version)", () => {
  it.each([
    [1, 0.007],
    [2.2, 6],
    [0.4, 24],
  ])("gives the same at %d Hz and beta %d, at uneven times", (minCutoff, beta) => {
    const random = randomFrom(7);
    const theirs = new OneEuroFilter(60, minCutoff, beta, 1);
    const ours = new OneEuro(1, { minCutoff, beta });
    let t = 0;
    let before = 0;
    for (let i = 0; i < 400; i++) {
      const dt = 1 / 60 + 0.01 * random();
      t += dt;
      const value = Math.sin(2 * t) + 0.05 * random();
      const expected = theirs.filter(value, t);
      const got = ours.push([value], i === 0 ? 1 / 60 : dt)[0]!;
      expect(Math.abs(got - expected)).toBeLessThan(1e-9);
      before = got;
    }
    expect(before).not.toBe(0);
  });
});

describe("keys that are left", () => {
  it("stay within the tolerance of any curve, at every one of its times (Douglas & Peucker 1973)", () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { minLength: 2, maxLength: 200 }),
        fc.float({ min: Math.fround(0.001), max: Math.fround(0.5), noNaN: true }),
        (values, tolerance) => {
          const times = values.map((_, i) => i / 60 + (i % 3) * 0.002);
          const keys = keysNeeded(times, values, tolerance);
          for (let k = 0; k + 1 < keys.length; k++) {
            const [a, b] = [keys[k]!, keys[k + 1]!];
            for (let i = a; i <= b; i++) {
              const t = (times[i]! - times[a]!) / (times[b]! - times[a]!);
              expect(Math.abs((1 - t) * values[a]! + t * values[b]! - values[i]!)).toBeLessThanOrEqual(
                tolerance + 1e-9,
              );
            }
          }
          expect([keys[0], keys[keys.length - 1]]).toEqual([0, values.length - 1]);
        },
      ),
    );
  });
  it("are two for a straight line, and all for one that turns at every time", () => {
    const straight = Float32Array.from({ length: 50 }, (_, i) => i);
    expect(keysNeeded(straight, straight, 1e-6)).toHaveLength(2);
    const teeth = Float32Array.from({ length: 50 }, (_, i) => i % 2);
    expect(keysNeeded(straight, teeth, 0.1)).toHaveLength(50);
  });
});

describe("the tracking protocol by an independent client (npm websocket)", () => {
  it("is heard whole: the take that it makes is the one that is written as a table", async () => {
    const standIn = await startStandIn({ take: "greeting", speed: 3 });
    const reader = new StreamReader();
    const frames: Parameters<typeof takeOfFrames>[1][number][] = [];
    await new Promise<void>((resolve, reject) => {
      const client = new websocket.client();
      client.on("connectFailed", reject);
      client.on("connect", (connection) => {
        connection.on("message", (message) => {
          if (message.type !== "utf8") return;
          const got = reader.push(message.utf8Data, performance.now());
          if (got.kind === "frame") frames.push(got.frame);
          // late ones come after the end
          if (got.kind === "end") setTimeout(() => connection.close(), 200);
        });
        connection.on("close", () => resolve());
      });
      client.connect(`ws://127.0.0.1:${standIn.port}`);
    });
    await standIn.close();
    expect(reader.counts).toMatchObject({ frames: 300, missing: 0, refused: 0 });
    expect(reader.counts.late).toBeGreaterThan(0);
    expect(takeTable(takeOfFrames(reader.hello!, frames)!)).toBe(takeTable(takeNamed("greeting")));
  });
});

/** Greatest distance in metres between the corners three.js plays and those we show, over some frames. */
async function farthestInThree(character: Character, trial: Trial, frames: readonly number[]): Promise<number> {
  const clip = bakeTrial(character, trial, "all of it", true)!;
  const bytes = await writeGlb({ ...character, clips: [clip] });
  const gltf = await new GLTFLoader().parseAsync(bytes.slice().buffer, "");
  const scene = gltf.scene as Group;
  const mixer = new AnimationMixer(scene);
  const action = mixer.clipAction((gltf.animations as AnimationClip[])[0]!).setLoop(LoopOnce, 1);
  action.clampWhenFinished = true;
  action.play();
  const rig = makeRig(character);
  const at = new Vector3();
  let farthest = 0;
  for (const f of frames) {
    mixer.setTime(f / trial.fps);
    scene.updateMatrixWorld(true);
    const ours = deform(rig, momentAt(character, trial, f / trial.fps));
    for (const [p, part] of character.parts.entries()) {
      const mesh = meshOf(scene, part.name);
      if (!mesh) throw new Error(`three has no mesh of ${part.name}`);
      const P = ours.positions[p]!;
      const step = Math.max(1, Math.floor(P.length / 3 / 60));
      for (let v = 0; v < P.length / 3; v += step) {
        mesh.getVertexPosition(v, at).applyMatrix4(mesh.matrixWorld);
        farthest = Math.max(farthest, Math.hypot(at.x - P[3 * v]!, at.y - P[3 * v + 1]!, at.z - P[3 * v + 2]!));
      }
    }
  }
  return farthest;
}
/** The mesh of a part; of one with several materials the first, which has all of its corners. */
function meshOf(scene: Group, part: string): SkinnedMesh | null {
  const name = part.replace(/\s/g, "_");
  let found: SkinnedMesh | null = null;
  scene.traverse((o) => {
    const mesh = o as SkinnedMesh;
    if (mesh.isMesh && (mesh.name === name || mesh.name === `${name}_1`)) found = mesh;
  });
  return found;
}

describe("body, face and speech together", () => {
  it("are one file that npm three plays as we show it, correctives with it, within 0.1 mm", async () => {
    const wick = await loadMember("wick");
    const take = takeNamed("greeting");
    const { line } = await sayLine("Mind the gap", "alto");
    const trial = { ...emptyTrial("together"), fps: 30 as const };
    const clip = wick.clips.find((c) => /reach/.test(c.name)) ?? wick.clips[0]!;
    const all: Trial = {
      ...trial,
      lanes: {
        ...trial.lanes,
        body: [clipPiece(clip.name, 2, 0, "body")],
        tracking: [{ ...takePiece(take, plainSettings(take, wick), { start: 0, id: "face" }), to: 2 }],
        speech: [linePiece(line, { said: null, sound: null }, 0.4, "line")],
      },
    };
    speakTrial(wick, all);
    const frames = [0, 24, trialFrames(all) - 1];
    expect(await farthestInThree(wick, all, frames)).toBeLessThan(1e-4);
  });
  it("leave every closure of a line shut over a face that talks and smiles", async () => {
    const oda = await loadMember("oda");
    const take = takeNamed("announcement");
    const { line } = await sayLine("Mind the wet planks by the pump", "bass");
    const piece = linePiece(line, { said: null, sound: null }, 0.2, "line");
    for (const mouth of [0.25, 1]) {
      const trial = emptyTrial("t");
      const face = { ...takePiece(take, plainSettings(take, oda), { start: 0, id: "face" }), mouth };
      const both: Trial = { ...trial, lanes: { ...trial.lanes, tracking: [face], speech: [piece] } };
      const { scores } = speakPiece(oda, both, piece);
      const closures = scores.filter((s) => s.check === "speech.closure");
      expect(closures.length).toBeGreaterThan(4);
      expect(closures.filter((s) => !s.met)).toEqual([]);
    }
  });
});
