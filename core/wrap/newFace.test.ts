import { objOf, scanOf } from "../../demo/scans/scanOf";
import { cleanTarn, loadOda } from "../../demo/cast";
import { PROFILES } from "../checks/profile";
import { runChecks } from "../checks/runChecks";
import { applyStep } from "../ledger/applyStep";
import { encodeIdentity } from "../ledger/encodeIdentity";
import { applySimilarity } from "../math/similarity";
import { eyeballsOf } from "../measure/eyeballs";
import { humanoidMap } from "../skeleton/humanoidMap";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import type { Character } from "../model/character";
import { movedBy } from "../model/movedBy";
import { bringTargets } from "./targets/bringTargets";
import type { SkinTie } from "../transfer/layOn";
import { layOnScan } from "./layOnScan";
import { movedBase, newIdentity } from "./newIdentity";
import { openScan } from "./openScan";
import { placedPositions } from "./placeScan";

type Point = readonly [number, number, number];
const SHAPES = ["AU43_left", "AU43_right", "AU12_left", "AU26", "AU18", "viseme_1"];
const full = await loadOda();
/** Oda with some of her shapes, and Tarn's face as a scan of another net, in centimetres, Z up, somewhere else. */
const oda: Character = {
  ...full,
  clips: [],
  drivers: [],
  shapeDrivers: [],
  shapes: full.shapes.filter((s) => SHAPES.includes(s.name)),
};
const tarn = cleanTarn(full);
const body = oda.parts.findIndex((p) => p.kind === "body");
const away = ([x, y, z]: Point): Point => [100 * x + 20, -100 * z + 3, 100 * y - 90];
const P = oda.parts[body]!.positions;
const scan = scanOf(tarn, ([, y, z]) => y > 1.66 && z > 0, away);
const opened = await openScan(oda, { name: "tarn.obj", bytes: new TextEncoder().encode(objOf(scan)) }, true);
const { place } = opened.placed!;
const standing = { ...opened.mesh, positions: placedPositions(opened.mesh, place) };
/** Where Tarn's own vertices are, brought as the scan was: what a perfect answer would be. */
const T = tarn.parts[body]!.positions;
const truth = (v: number): Point => applySimilarity(place, ...away([T[3 * v]!, T[3 * v + 1]!, T[3 * v + 2]!]));
const ties: SkinTie[] = opened.landmarks.flatMap((l, i) =>
  opened.proposed[i]
    ? [{ corners: l.corners, shares: l.shares, to: applySimilarity(place, ...opened.proposed[i]!) }]
    : [],
);
const laid = await layOnScan(oda, standing, { ties, symmetric: true });
const face = Array.from({ length: P.length / 3 }, (_, v) => v).filter(
  (v) => P[3 * v + 1]! > 1.48 && P[3 * v + 2]! > 0.07,
);
const offTruth = (at: Float32Array): number[] =>
  face.map((v) => 1000 * Math.hypot(...truth(v).map((x, c) => x - at[3 * v + c]!))).sort((a, b) => a - b);

describe("another face from a scan", () => {
  it("stands where the head is, and its landmarks are proposed near where they are", () => {
    expect(opened.placed!.medianMm).toBeLessThan(3);
    expect(place.scale).toBeGreaterThan(0.0085);
    expect(place.scale).toBeLessThan(0.0105);
    const off = opened.landmarks
      .filter((l) => !/ear/.test(l.curve))
      .map((l) => {
        const at = opened.proposed[opened.landmarks.indexOf(l)]!;
        const goal = [0, 1, 2].map((c) => l.corners.reduce((sum, v, k) => sum + l.shares[k]! * truth(v)[c]!, 0));
        return 1000 * Math.hypot(...applySimilarity(place, ...at).map((x, c) => x - goal[c]!));
      })
      .sort((a, b) => a - b);
    expect(off[off.length >> 1]!).toBeLessThan(4);
  });
  it("is laid on closely, with every vertex near the one of the face it is, both sides alike", () => {
    expect(laid.medianMm).toBeLessThan(0.4);
    expect(laid.p95Mm).toBeLessThan(2);
    const { moved } = movedBy(
      oda.parts[body]!,
      laid.deltas.find((d) => d.part === body)!,
    );
    expect(offTruth(moved)[face.length >> 1]!).toBeLessThan(3);
    // far from the scan nothing moves
    for (let v = 0; v < P.length / 3; v++) if (P[3 * v + 1]! < 1.2) expect(moved[3 * v]).toBe(P[3 * v]);
    expect(laid.deltas.map((d) => oda.parts[d.part]!.kind)).toEqual(
      expect.arrayContaining(["lash", "teeth", "tongue", "brow", "eye"]),
    );
    for (const [p, part] of oda.parts.entries())
      if (part.kind === "eye" && /^eye/.test(part.name)) {
        const goal = eyeballsOf({ ...tarn, clips: [] }).find((e) => tarn.parts[e.part]!.name === part.name)!;
        const ball = eyeballsOf({
          ...oda,
          parts: oda.parts.map((q, i) =>
            i === p
              ? {
                  ...q,
                  positions: movedBy(
                    q,
                    laid.deltas.find((d) => d.part === p)!,
                  ).moved,
                }
              : q,
          ),
        }).find((e) => e.part === p)!;
        expect(
          1000 * Math.hypot(...applySimilarity(place, ...away(goal.centre)).map((x, c) => x - ball.centre[c]!)),
        ).toBeLessThan(3);
      }
  });
  it("meets places set by hand, follows where skin is left out, and keeps lips together", async () => {
    const tip = opened.landmarks.find((l) => l.id === "nose tip")!;
    const at = applySimilarity(place, ...opened.proposed[opened.landmarks.indexOf(tip)]!);
    const to: Point = [at[0] + 0.004, at[1], at[2]];
    const byHand = await layOnScan(oda, standing, {
      ties: [{ corners: tip.corners, shares: tip.shares, to }],
      closeness: 0.3,
    });
    // it stands 4 mm beside where the surface would have it, and what lies near says otherwise
    expect(byHand.tiesMm[0]).toBeLessThan(2.8);
    const nose = Float32Array.from({ length: P.length / 3 }, (_, v) =>
      Math.hypot(P[3 * v]! - tip.place[0], P[3 * v + 1]! - tip.place[1], P[3 * v + 2]! - tip.place[2]) < 0.02 ? 1 : 0,
    );
    const without = await layOnScan(oda, standing, { leftOut: nose, closeness: 0.3 });
    expect([...without.off.vertices].some((v) => nose[v] === 1)).toBe(false);
  });
  it("is refused where nothing lies near", async () =>
    expect(layOnScan(oda, { ...standing, positions: standing.positions.map((x) => x + 3) })).rejects.toThrow(
      /Hardly any of body/,
    ));
});

describe("taking a new face on", () => {
  it("moves base and joints, and carries the shapes so that they hold on the new face", async () => {
    const face = await newIdentity(oda, laid.deltas, true);
    expect(face.shapes.map((s) => s.name).sort()).toEqual([...SHAPES].sort());
    const { base, jointOffsets, shapes } = encodeIdentity(oda, face);
    const blobs = new Map([
      ["b".repeat(64), base],
      ...shapes.map((s, i): [string, Uint8Array] => [String(i).padStart(64, "0"), s.bytes]),
    ]);
    const step = {
      op: "new face" as const,
      source: "tarn",
      base: "b".repeat(64),
      jointOffsets: jointOffsets.map((o) => ({ joint: o.joint, offset: [...o.offset] as [number, number, number] })),
      shapes: shapes.map((s, i) => ({ name: s.name, blob: String(i).padStart(64, "0") })),
    };
    const now = applyStep(oda, step, (h) => blobs.get(h));
    expect(now.parts[body]!.corners).toBe(oda.parts[body]!.corners);
    expect(now.shapes.map((s) => s.name)).toEqual(oda.shapes.map((s) => s.name));
    // the eyes' joints stand in the new eyeballs
    const { jointOfBone } = humanoidMap(now.skeleton!);
    for (const eye of eyeballsOf(now)) {
      const joint = translationOf(worldMatrices(now.skeleton!, {}), 16 * jointOfBone.get(`${eye.side}Eye`)!);
      expect(1000 * Math.hypot(...joint.map((x, c) => x - eye.centre[c]!))).toBeLessThan(1);
    }
    const worst = async (c: Character): Promise<number> =>
      (
        await runChecks(c, PROFILES.realtime, {
          only: ["face.lid-gap", "face.eye-through-lid", "face.lip-seal", "shapes.flip"],
        })
      ).findings.length;
    const kept = movedBase(oda, face.deltas, face.jointOffsets);
    expect(await worst(now)).toBeLessThan(await worst(kept));
    expect(() =>
      applyStep(oda, { ...step, jointOffsets: [{ joint: "nobody", offset: [0, 0, 0] }] }, (h) => blobs.get(h)),
    ).toThrow(/no joint named nobody/);
  });
  it("says so when nothing moves", async () => expect(newIdentity(oda, [], true)).rejects.toThrow(/Nothing moves/));
});

describe("a scan among target files", () => {
  it("is refused when it is not asked for, and becomes a shape when it is", async () => {
    const files = [{ name: "scan.obj", bytes: new TextEncoder().encode(objOf(standing)) }];
    const [refused] = await bringTargets(oda, files, { smoothRounds: 0, smoothStrength: 1 });
    expect(refused!.refused!.what).toMatch(/body has/);
    const [brought] = await bringTargets(oda, files, { smoothRounds: 0, smoothStrength: 1, layOnScans: true });
    expect(brought!.notes[0]).toMatch(/half lies within 0\.\d\d mm/);
  });
});

describe("a mesh with the character's own vertices", () => {
  it("is told by itself and needs no landmark", async () => {
    const same = await openScan(
      oda,
      {
        name: "sculpt.obj",
        bytes: new TextEncoder().encode(
          objOf({ ...oda.parts[body]!, positions: P.map((x, i) => (i % 3 === 1 && P[i]! > 1.5 ? x + 0.002 : x)) }),
        ),
      },
      true,
    );
    expect(same.same!.deltas[0]!.part).toBe(body);
    expect([same.landmarks.length, same.proposed.length]).toEqual([0, 0]);
  });
  it("is refused without faces", async () =>
    expect(
      openScan(oda, { name: "cloud.obj", bytes: new TextEncoder().encode("v 0 0 0\nv 1 0 0\nv 0 1 0\n") }, true),
    ).rejects.toThrow(/No face is in the file/));
});
