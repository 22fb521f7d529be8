import { figureParts } from "./figureParts";
import { MATERIALS } from "./materials";
import { eyeDisc } from "./textures";
import { buildSkin } from "./skin/buildSkin";
import { imageSize } from "../../core/formats/imageSize";
import { imagesOf } from "../../core/model/materialLook";
import { readPixels } from "../../core/edits/textures/shrinkImage";
import { vertexCountOf } from "../../core/model/character";

const parts = figureParts(buildSkin());
const named = (name: string) => parts.find((p) => p.name === name)!;
const material = (name: string) => MATERIALS.find((m) => m.name === name)!;
const pixels = (name: string) => readPixels(material(name).texture!.bytes, name);

describe("maps of the demo's figures", () => {
  it("are small, and every part of a textured material has coordinates", () => {
    const bytes = new Set(MATERIALS.flatMap(imagesOf));
    let sum = 0;
    for (const image of bytes) {
      expect(Math.max(...Object.values(imageSize(image)!))).toBeLessThanOrEqual(256);
      sum += image.length;
    }
    expect(sum).toBeLessThan(300_000);
    for (const part of parts)
      for (const g of part.groups)
        if (imagesOf(MATERIALS[g.material]!).length) expect(part.uvs).toHaveLength(2 * vertexCountOf(part));
  });

  it("lie without a seam: no edge of skin or cloth crosses more than a few times its length", () => {
    for (const [name, tile] of [
      ["body", 0.04],
      ["top", 0.03],
      ["trousers", 0.03],
    ] as const) {
      const { corners, positions, uvs } = named(name);
      const ratios: number[] = [];
      for (let k = 0; k < corners.length; k += 4)
        for (let e = 0; e < 4; e++) {
          const [a, b] = [corners[k + e]!, corners[k + ((e + 1) % 4)]!];
          const long = Math.hypot(...[0, 1, 2].map((c) => positions[3 * a + c]! - positions[3 * b + c]!));
          const laid = tile * Math.hypot(uvs![2 * a]! - uvs![2 * b]!, uvs![2 * a + 1]! - uvs![2 * b + 1]!);
          // the crown of the head is the pole of the way round; hair lies over it
          if (long > 1e-4 && positions[3 * a + 1]! < 1.66) ratios.push(laid / long);
        }
      ratios.sort((x, y) => x - y);
      // a seam would cross the whole way round: forty times and more
      expect(ratios.at(-1)).toBeLessThan(9);
      expect(ratios[Math.floor(0.5 * ratios.length)]).toBeGreaterThan(0.4);
      expect(ratios[Math.floor(0.5 * ratios.length)]).toBeLessThan(1.6);
    }
  });

  it("left and right lie alike on the skin", () => {
    const { uvs, positions } = named("body");
    const at = new Map<string, number>();
    const key = (x: number, y: number, z: number): string => [x, y, z].map((v) => Math.round(v * 1e5)).join();
    for (let v = 0; v < uvs!.length / 2; v++)
      at.set(key(positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!), v);
    let pairs = 0;
    for (let v = 0; v < uvs!.length / 2; v++) {
      const other = at.get(key(-positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!));
      if (other === undefined) continue;
      pairs++;
      expect(Math.hypot(uvs![2 * v]! - uvs![2 * other]!, uvs![2 * v + 1]! - uvs![2 * other + 1]!)).toBeLessThan(0.02);
    }
    expect(pairs).toBeGreaterThan(0.9 * (uvs!.length / 2));
  });

  it("hair and lashes are let through: full inside, nothing at the tips, cut off and blended as their materials say", () => {
    const alpha = (name: string, x: number, y: number): number => {
      const { width, height, data } = pixels(name);
      return data[4 * (Math.floor(y * height) * width + Math.floor(x * width)) + 3]!;
    };
    expect([material("hair").opacity, material("lash").opacity]).toEqual(["mask", "blend"]);
    expect(alpha("hair", 0.3, 0.5)).toBe(255);
    expect(alpha("hair", 0.3, 0.002)).toBe(0);
    expect(alpha("lash", 0.5, 0.99)).toBe(255);
    expect(alpha("lash", 0.02, 0.02)).toBe(0);
  });

  it("normal maps hold unit normals that look out on average", () => {
    for (const { maps } of MATERIALS)
      for (const { bytes, slot } of maps ?? []) {
        if (slot !== "normal") continue;
        const { data } = readPixels(bytes, slot);
        const mean = [0, 0, 0];
        let offUnit = 0;
        for (let i = 0; i < data.length; i += 4) {
          const n = [0, 1, 2].map((c) => data[i + c]! / 127.5 - 1);
          offUnit = Math.max(offUnit, Math.abs(Math.hypot(...n) - 1));
          n.forEach((x, c) => (mean[c]! += x / (data.length / 4)));
        }
        expect(offUnit).toBeLessThan(0.02);
        expect(Math.abs(mean[0]!)).toBeLessThan(0.02);
        expect(Math.abs(mean[1]!)).toBeLessThan(0.02);
        expect(mean[2]).toBeGreaterThan(0.8);
      }
  });

  it("the eye's disc has the iris in its middle and its edge at the back of the ball", () => {
    expect(eyeDisc(0, 1)).toEqual([0.5, 0.5]);
    expect(Math.hypot(...eyeDisc(180, 0.7).map((x) => x - 0.5))).toBeCloseTo(0.5, 9);
    expect(Math.hypot(...eyeDisc(28, 2).map((x) => x - 0.5))).toBeCloseTo(0.4, 9);
  });
});
