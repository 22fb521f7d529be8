import type { Part } from "../model/character";
import { partOf } from "../../tests/helpers/characters";
import { layOn } from "./layOn";

/** A sheet of quads facing +z, 0.1 m wide, n by n, over a height. */
const sheet = (n: number, z: (x: number, y: number) => number, width = 0.1): Part => {
  const points: [number, number, number][] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const [x, y] = [width * (i / n - 0.5), width * (j / n - 0.5)];
      points.push([x, y, z(x, y)]);
    }
  const faces = Array.from({ length: n * n }, (_, f) => {
    const a = Math.floor(f / n) * (n + 1) + (f % n);
    return [a, a + 1, a + n + 2, a + n + 1];
  });
  return { ...partOf("sheet", points, faces), kind: "body" };
};
const all = (part: Part): Uint8Array => new Uint8Array(part.positions.length / 3).fill(1);
const worst = (laid: Float32Array, z: (x: number, y: number) => number, within: number): number => {
  let most = 0;
  for (let i = 0; i < laid.length; i += 3)
    if (Math.abs(laid[i]!) < within && Math.abs(laid[i + 1]!) < within)
      most = Math.max(most, Math.abs(laid[i + 2]! - z(laid[i]!, laid[i + 1]!)));
  return most;
};

describe("a sheet laid on another of another net", () => {
  const flat = sheet(16, () => 0);
  it("that is the same surface stays where it is", async () => {
    const laid = await layOn(
      flat,
      flat.positions,
      all(flat),
      sheet(23, () => 0, 0.12),
    );
    for (let i = 0; i < laid.length; i++) expect(Math.abs(laid[i]! - flat.positions[i]!)).toBeLessThan(2e-5);
  });
  it("that is shifted goes along with the shift", async () => {
    const laid = await layOn(
      flat,
      flat.positions,
      all(flat),
      sheet(23, () => 0.008, 0.12),
    );
    for (let i = 2; i < laid.length; i += 3) expect(laid[i]!).toBeCloseTo(0.008, 4);
  });
  it.each<[string, (x: number, y: number) => number]>([
    ["a bowl", (x, y) => 3 * (x * x + y * y)],
    ["a wave", (x) => 0.004 * Math.sin(60 * x)],
    ["a slope", (x) => 0.1 * x + 0.004],
  ])("of the form of %s takes that form, to a quarter of a millimetre", async (_form, z) => {
    const laid = await layOn(flat, flat.positions, all(flat), sheet(40, z, 0.12));
    expect(worst(laid, z, 0.04)).toBeLessThan(0.00025);
  });
  it("leaves what is not free where it is, and lays the rest smoothly beside it", async () => {
    const free = all(flat);
    for (let v = 0; v < free.length; v++) if (flat.positions[3 * v]! < 0) free[v] = 0;
    const laid = await layOn(
      flat,
      flat.positions,
      free,
      sheet(23, () => 0.006, 0.12),
    );
    for (let v = 0; v < free.length; v++) if (!free[v]) expect(laid[3 * v + 2]).toBe(0);
    expect(Math.max(...laid.filter((_, i) => i % 3 === 2))).toBeGreaterThan(0.004);
  });
  it("that lies beyond reach, or faces away, draws nothing", async () => {
    const far = await layOn(
      flat,
      flat.positions,
      all(flat),
      sheet(12, () => 0.2),
    );
    for (let i = 0; i < far.length; i++) expect(Math.abs(far[i]! - flat.positions[i]!)).toBeLessThan(1e-6);
    const turned = sheet(12, () => 0.005);
    const away = await layOn(flat, flat.positions, all(flat), { ...turned, corners: turned.corners.slice().reverse() });
    for (let i = 2; i < away.length; i += 3) expect(Math.abs(away[i]!)).toBeLessThan(1e-6);
  });
  it("tells how far it is, and can be stopped", async () => {
    const seen: number[] = [];
    await layOn(flat, flat.positions, all(flat), flat, {}, (done, total) => void seen.push(done / total));
    expect(seen[0]).toBe(0);
    expect(seen.at(-1)).toBe(1);
    await expect(
      layOn(flat, flat.positions, all(flat), flat, {}, () => {
        throw new Error("cancelled");
      }),
    ).rejects.toThrow("cancelled");
  });
});
