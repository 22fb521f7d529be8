import { PerspectiveCamera, Vector3 } from "three";
import { makeRig } from "~core/deform/rig";
import { LiveDeform } from "~core/deform/liveDeform";
import { REST_MOMENT } from "~core/evaluate/moment";
import { toLinear } from "~core/math/srgb";
import { DEFAULT_MATERIAL, type Character, type Material, type TextureImage } from "~core/model/character";
import { characterWith, partOf } from "../../../../tests/helpers/characters";
import { randomFrom } from "../../../../tests/helpers/random";
import { coverTriangles } from "./coverTriangles";
import { makeFrame, type Frame } from "./frame";
import { lensOf, project } from "./lens";
import { paintSurfaces } from "./paintSurfaces";
import { levelFor, pixelImage, sample, type PixelImage } from "./pixelImage";
import { surfacesOf } from "./surfaces";

const SIZE = 64;
/** Looks along -z at the plane z = 0, of which it sees two metres. */
const lens = lensOf([0, 0, 4], [0, 0, 0], (360 / Math.PI) * Math.atan(0.25), SIZE, SIZE);

/** Images by their first byte, as a browser would decode them. */
const image = (key: number): TextureImage => ({ name: `i${key}`, mimeType: "image/png", bytes: Uint8Array.of(key) });
const plain = (r: number, g: number, b: number, a = 255): PixelImage =>
  pixelImage({ width: 1, height: 1, data: Uint8Array.of(r, g, b, a) });

async function painted(
  character: Character,
  images: Record<number, PixelImage> = {},
  { fine = true, by = lens } = {},
): Promise<Frame> {
  const rig = makeRig(character);
  const live = new LiveDeform(rig);
  live.update(rig, REST_MOMENT);
  const surfaces = await surfacesOf(rig, async ({ bytes }) => images[bytes[0]!] ?? null);
  const parts = live.deformed.drawn.map((points, p) => ({
    points,
    normals: live.deformed.normals[p]!,
    screen: new Float32Array(points.length),
  }));
  const frame = makeFrame(by.width, by.height);
  paintSurfaces(frame, by, surfaces, parts, fine);
  return frame;
}
const pixel = ({ color, width }: Frame, x: number, y: number): number[] =>
  [...color.subarray(4 * (y * width + x))].slice(0, 4);

/** A square in a plane of constant z that faces the camera. */
const square = (half: number, z: number, material = 0, name = "square"): ReturnType<typeof partOf> =>
  partOf(
    name,
    [
      [-half, -half, z],
      [half, -half, z],
      [half, half, z],
      [-half, half, z],
    ],
    [[0, 1, 2, 3]],
    { uvs: Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0), groups: [{ material, faceStart: 0, faceCount: 1 }] },
  );
const material = (fields: Partial<Material>): Material => ({
  ...DEFAULT_MATERIAL,
  roughness: 1,
  metallic: 0,
  ...fields,
});
/** Lit by nothing but itself: black, and glowing. */
const glowing = (r: number, g: number, b: number, fields: Partial<Material> = {}): Material =>
  material({ baseColor: [0, 0, 0, 1], metallic: 1, emissive: [r, g, b], ...fields });

describe("where points fall in the picture", () => {
  it("is where three's own camera has them, to the grid", () => {
    const [w, h] = [248, 224];
    const [from, at] = [new Vector3(0.4, 1.7, 1.1), new Vector3(0.02, 1.5, 0.1)];
    const camera = new PerspectiveCamera(26, w / h, 0.01, 50);
    camera.position.copy(from);
    camera.lookAt(at);
    camera.updateMatrixWorld();
    const random = randomFrom(5);
    const points = Float32Array.from({ length: 300 }, () => random() * 0.4 - 0.2).map(
      (x, i) => x + at.getComponent(i % 3),
    );
    const out = new Float32Array(points.length);
    project(points, lensOf(from.toArray(), at.toArray(), 26, w, h), out);
    for (let i = 0; i < points.length; i += 3) {
      const p = new Vector3(...points.subarray(i, i + 3)).project(camera);
      expect(Math.abs(out[i]! - ((p.x + 1) * w) / 2)).toBeLessThan(1 / 256);
      expect(Math.abs(out[i + 1]! - ((1 - p.y) * h) / 2)).toBeLessThan(1 / 256);
    }
  });
});

describe("the pixels of triangles", () => {
  it("of a net without gaps are covered once each, whatever the net", () => {
    const random = randomFrom(11);
    for (let round = 0; round < 20; round++) {
      const n = 9;
      const screen = new Float32Array(3 * n * n);
      for (let i = 0; i < n * n; i++) {
        const [column, row] = [i % n, Math.floor(i / n)];
        const inner = column > 0 && row > 0 && column < n - 1 && row < n - 1;
        const shift = (): number => (inner ? Math.round((random() - 0.5) * 3 * 256) / 256 : 0);
        screen.set([8 * column + shift(), 8 * row + shift(), 1], 3 * i);
      }
      const triangles = new Uint32Array(6 * (n - 1) ** 2);
      for (let q = 0; q < (n - 1) ** 2; q++) {
        const a = Math.floor(q / (n - 1)) * n + (q % (n - 1));
        triangles.set([a, a + n, a + 1, a + 1, a + n, a + n + 1], 6 * q);
      }
      const frame = makeFrame(SIZE, SIZE);
      const times = new Uint8Array(SIZE * SIZE);
      coverTriangles(frame, screen, { triangles, start: 0, end: triangles.length, doubleSided: false }, 1, (at) => {
        times[at]!++;
        return false;
      });
      expect([...new Set(times)]).toEqual([1]);
    }
  });

  it("are as many as the triangle's area has, and none from behind", () => {
    const frame = makeFrame(SIZE, SIZE);
    const screen = Float32Array.of(3, 60, 1, 61, 50, 1, 20, 2, 1);
    const run = { triangles: Uint32Array.of(0, 1, 2), start: 0, end: 3, doubleSided: false };
    coverTriangles(frame, screen, run, 7, null);
    const area = Math.abs((61 - 3) * (2 - 60) - (20 - 3) * (50 - 60)) / 2;
    const covered = frame.surface.filter((s) => s === 7).length;
    expect(Math.abs(covered - area)).toBeLessThan(0.02 * area);
    const behind = makeFrame(SIZE, SIZE);
    coverTriangles(behind, screen, { ...run, triangles: Uint32Array.of(0, 2, 1) }, 7, null);
    expect(behind.surface.some((s) => s > 0)).toBe(false);
    coverTriangles(behind, screen, { ...run, triangles: Uint32Array.of(0, 2, 1), doubleSided: true }, 7, null);
    expect(behind.surface.filter((s) => s === 7)).toHaveLength(covered);
  });
});

describe("images", () => {
  const steps = pixelImage({
    width: 2,
    height: 2,
    data: Uint8Array.of(0, 0, 0, 255, 255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 0),
  });
  const at = (u: number, v: number, light: boolean, level = 0): number[] => {
    const out = new Float64Array(4);
    sample(steps, level, u, v, light, out);
    return [...out].map((x) => Math.round(1e4 * x) / 1e4);
  };
  it("are met at the middles of their pixels and mixed between them, as light", () => {
    expect(at(0.75, 0.25, true)).toEqual([1, 0, 0, 1]);
    expect(at(0.25, 0.75, true)).toEqual([0, 1, 0, 1]);
    expect(at(0.5, 0.25, true)).toEqual([0.5, 0, 0, 1]);
    expect(at(1.25, -0.75, true)).toEqual([0, 0, 0, 1]);
    expect(at(0.5, 0.5, false)).toEqual([0.25, 0.25, 0.25, 0.75]);
  });
  it("are halved down to one pixel, and the level follows the pixels that one of the picture covers", () => {
    expect(steps.levels.map((l) => l.width)).toEqual([2, 1]);
    expect([...steps.levels[1]!.data]).toEqual([64, 64, 64, 191]);
    expect([1, 2, 3, 8, 9, 1e6].map((texels) => levelFor(texels, 5))).toEqual([0, 0, 1, 1, 2, 4]);
  });
});

describe("a picture", () => {
  const red = glowing(1, 0, 0);
  const green = glowing(0, 1, 0);

  it("shows what is nearer, whatever the order, and nothing where nothing is", async () => {
    for (const parts of [
      [square(0.5, 0, 0), square(0.2, 0.5, 1)],
      [square(0.2, 0.5, 1), square(0.5, 0, 0)],
    ]) {
      const frame = await painted(characterWith({ parts, materials: [red, green] }));
      expect(pixel(frame, 32, 32)).toEqual([0, 255, 0, 255]);
      expect(pixel(frame, 18, 32)).toEqual([255, 0, 0, 255]);
      expect(pixel(frame, 2, 2)).toEqual([0, 0, 0, 0]);
    }
  });

  it("leaves out what a cut-off texture cuts off, and lays what is blended over what is behind it", async () => {
    const images = { 1: plain(255, 255, 255, 100), 2: plain(255, 255, 255, 200) };
    const over = (fields: Partial<Material>): Promise<Frame> =>
      painted(
        characterWith({
          parts: [square(0.2, 0.5, 1), square(0.5, 0, 0)],
          materials: [red, glowing(0, 1, 0, { alphaCutoff: 0.5, ...fields })],
        }),
        images,
      );
    expect(pixel(await over({ opacity: "mask", texture: image(1) }), 32, 32)).toEqual([255, 0, 0, 255]);
    expect(pixel(await over({ opacity: "mask", texture: image(2) }), 32, 32)).toEqual([0, 255, 0, 255]);
    // over what is there already, in the numbers of the screen: 200 of 255 parts of it
    expect(pixel(await over({ opacity: "blend", texture: image(2) }), 32, 32)).toEqual([55, 200, 0, 255]);
    const half = await over({ opacity: "blend", baseColor: [0, 0, 0, 0.5] });
    expect(pixel(half, 32, 32)).toEqual([128, 128, 0, 255]);
  });

  it("keeps the opacity of what is blended over nothing", async () => {
    const frame = await painted(
      characterWith({
        parts: [square(0.5, 0)],
        materials: [glowing(0, 1, 0, { opacity: "blend", texture: image(1) })],
      }),
      { 1: plain(255, 255, 255, 100) },
    );
    expect(pixel(frame, 32, 32)).toEqual([0, 255, 0, 100]);
  });

  it("lays a texture as seen in perspective", async () => {
    // a floor that runs away from the eye: its middle is not in the middle of its picture
    const floor = partOf(
      "floor",
      [
        [-0.5, -0.5, 1],
        [0.5, -0.5, 1],
        [0.5, -0.5, -5],
        [-0.5, -0.5, -5],
      ],
      [[0, 1, 2, 3]],
      { uvs: Float32Array.of(0, 0, 1, 0, 1, 1, 0, 1) },
    );
    const data = Uint8Array.from({ length: 4 * 64 }, (_, i) => (i % 4 === 3 || i >> 2 < 32 ? 255 : 0));
    const halves = { levels: [{ width: 1, height: 64, data }] };
    const frame = await painted(
      characterWith({
        parts: [floor],
        materials: [glowing(1, 1, 1, { maps: [{ ...image(1), slot: "emissive", strength: 1 }] })],
      }),
      { 1: halves },
    );
    const rows = Array.from({ length: SIZE }, (_, y) => pixel(frame, 32, y));
    const edge = rows.findIndex(([r, , , a]) => a === 255 && r === 255);
    // the middle is at z = -2, 6 m from the eye, half a metre down: 0.5 / 6 of 0.25 in the half picture
    expect(Math.abs(edge - (32 + (0.5 / 6 / 0.25) * 32))).toBeLessThan(1.5);
  });

  it("has the light of a matt surface by Lambert's law: the sky's share and the lamps' by their slant", async () => {
    const frame = await painted(
      characterWith({ parts: [square(0.5, 0)], materials: [material({ baseColor: [0.5, 0.5, 0.5, 1] })] }),
    );
    // toward +z: half the sky, the key at 2.4 of sqrt(1.6² + 2.6² + 2.4²), no rim; glTF 2.0 gives 0.04 of gloss beside
    const light = (hex: number): number => toLinear(hex / 255);
    const sky = (1.35 * (light(0xf4) + light(0x8d))) / 2;
    const key = 2.3 * light(0xff) * (2.4 / Math.hypot(1.6, 2.6, 2.4));
    const matt = (0.96 * 0.5 * (sky + key)) / Math.PI;
    const [r] = pixel(frame, 32, 32);
    expect(toLinear(r! / 255)).toBeGreaterThan(matt);
    expect(toLinear(r! / 255)).toBeLessThan(matt + 0.02);
  });

  it("turns the light by a normal map, as far as it is strong", async () => {
    const lit = async (x: number, strength: number): Promise<number> => {
      const maps = [{ ...image(1), slot: "normal", strength }] as const;
      const frame = await painted(characterWith({ parts: [square(0.5, 0)], materials: [material({ maps })] }), {
        1: plain(x, 128, 220),
      });
      return pixel(frame, 32, 32)[0]!;
    };
    // the key shines from the left
    const [left, flat, right] = [await lit(40, 1), await lit(128, 1), await lit(215, 1)];
    expect(left).toBeGreaterThan(flat);
    expect(right).toBeLessThan(flat);
    expect(Math.abs((await lit(215, 0)) - flat)).toBeLessThanOrEqual(1);
  });

  it("shades the pieces of two by two once, and keeps edges as they are", async () => {
    const parts = [square(0.5, 0, 0), square(0.21, 0.5, 1)];
    const character = characterWith({ parts, materials: [material({}), green] });
    const [fine, rough] = [await painted(character), await painted(character, {}, { fine: false })];
    expect([...rough.surface]).toEqual([...fine.surface]);
    const off = fine.color.map((c, i) => Math.abs(c - rough.color[i]!));
    expect(Math.max(...off)).toBeLessThanOrEqual(2);
  });

  it("leaves out covered skin under garments", async () => {
    const parts = [square(0.5, 0, 0), { ...square(0.1, -1, 1, "shirt"), kind: "garment" as const }];
    const frame = await painted(characterWith({ parts, materials: [{ ...red, name: "covered skin" }, green] }));
    expect(pixel(frame, 20, 32)).toEqual([0, 0, 0, 0]);
    expect(pixel(frame, 32, 32)).toEqual([0, 255, 0, 255]);
  });
});
