import { loadOda } from "../../demo/cast";
import { reduceCharacter } from "../reduce/reduceCharacter";
import { writeObj } from "../formats/obj/writeObj";
import { fitSphere } from "../measure/fitSphere";
import type { Character } from "../model/character";
import { movedBy } from "../model/movedBy";
import { bringTargets } from "../shapes/targets/bringTargets";
import { bakeMix } from "../shapes/bakeMix";
import { layOnScan } from "./layOnScan";

/** A scan of Oda with another face: her head's skin changed smoothly, and cut into triangles of another net. */
const oda: Character = { ...(await loadOda()), clips: [] };
const body = oda.parts.findIndex((p) => p.kind === "body");
const changed = (x: number, y: number, z: number): [number, number, number] => {
  const high = Math.min(1, Math.max(0, (y - 1.42) / 0.06));
  return [x * (1 + 0.06 * high), y + 0.006 * high * Math.sin(30 * z), z + 0.008 * high * Math.cos(40 * (y - 1.55))];
};
const P = oda.parts[body]!.positions;
const wanted = Float32Array.from(Array.from({ length: P.length / 3 }, (_, v) => changed(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!)).flat());
const { character: small } = reduceCharacter({ ...oda, shapes: [], parts: [{ ...oda.parts[body]!, positions: wanted }] }, 9000);
const scan = small.parts[0]!;

describe("the skin laid on a scan", () => {
  it("lies on it, keeps its order, and takes eyes, teeth and lashes along", async () => {
    expect(scan.positions.length).not.toBe(P.length);
    const laid = await layOnScan(oda, scan);
    expect(laid.medianMm).toBeLessThan(0.3);
    expect(laid.p95Mm).toBeLessThan(1.5);
    const { moved } = movedBy(oda.parts[body]!, laid.deltas.find((d) => d.part === body)!);
    // on the face's front the places themselves are known
    const front = Array.from({ length: P.length / 3 }, (_, v) => v).filter((v) => P[3 * v + 1]! > 1.5 && P[3 * v + 2]! > 0.08);
    const off = front.map((v) => 1000 * Math.hypot(...[0, 1, 2].map((c) => moved[3 * v + c]! - wanted[3 * v + c]!))).sort((a, b) => a - b);
    expect(off[off.length >> 1]!).toBeLessThan(3);
    for (const [name, part] of oda.parts.entries()) if (part.kind === "eye") {
      const [before, after] = [fitSphere(part.positions)!, fitSphere(movedBy(part, laid.deltas.find((d) => d.part === name)!).moved)!];
      const goal = changed(...(before.centre as [number, number, number]));
      expect(1000 * Math.hypot(...[0, 1, 2].map((c) => after.centre[c]! - goal[c]!))).toBeLessThan(3);
      // the ball stays a ball, as large as the head around it grew
      expect(after.radius / before.radius).toBeGreaterThan(0.98);
      expect(after.radius / before.radius).toBeLessThan(1.08);
    }
    expect(laid.deltas.map((d) => oda.parts[d.part]!.kind)).toEqual(expect.arrayContaining(["lash", "teeth", "tongue", "brow"]));
  }, 120_000);
  it("comes as a file when it is asked for, is refused when not, and can be baked into the base", async () => {
    const bytes = new TextEncoder().encode(writeObj({ ...oda, parts: [{ ...scan, groups: [{ material: 0, faceStart: 0, faceCount: scan.faceStarts.length - 1 }] }] }, [scan.positions]));
    const files = [{ name: "scan.obj", bytes }];
    const [refused] = await bringTargets(oda, files, { smoothRounds: 0, smoothStrength: 1 });
    expect(refused!.refused!.what).toMatch(/body has/);
    const [brought] = await bringTargets(oda, files, { smoothRounds: 0, smoothStrength: 1, layOnScans: true });
    expect(brought!.notes[0]).toMatch(/half lies within 0\.\d\d mm/);
    const based = bakeMix({ ...oda, shapes: [...oda.shapes, { name: "scan", label: "scan", deltas: brought!.deltas }] }, { scan: 1 }, false);
    expect(based.shapes.length).toBe(oda.shapes.length);
    expect(based.parts[body]!.corners).toBe(oda.parts[body]!.corners);
  }, 120_000);
  it("says when the scan stands elsewhere", async () => await expect(layOnScan(oda, { ...scan, positions: scan.positions.map((x) => x + 3) })).rejects.toThrow(/Hardly any of body/));
});
