import {
  BufferAttribute,
  BufferGeometry,
  DataTexture,
  Mesh,
  MeshStandardMaterial,
  PerspectiveCamera,
  RepeatWrapping,
  RGBAFormat,
  Scene,
  SphereGeometry,
  SRGBColorSpace,
  WebGLRenderer,
  type Texture,
} from "three";
import { makeLights } from "../../app/stage/lights";
import { makeFrame } from "../../app/stage/pictures/raster/frame";
import { lensOf } from "../../app/stage/pictures/raster/lens";
import { paintSurfaces } from "../../app/stage/pictures/raster/paintSurfaces";
import { pixelImage } from "../../app/stage/pictures/raster/pixelImage";
import type { Surface } from "../../app/stage/pictures/raster/surfaces";

/** A ball of one material; images are made from functions of their pixels. */
export interface Ball {
  readonly color: readonly [number, number, number];
  readonly roughness: number;
  readonly metalness: number;
  readonly base?: boolean;
  readonly bumps?: boolean;
}
export interface Difference {
  /** Steps of 255 by which colours differ inside the ball. */
  readonly mean: number;
  readonly most: number;
  /** Pixels that one shows and the other does not. */
  readonly outline: number;
  readonly pixels: number;
}

const SIDE = 64;
const image = (at: (x: number, y: number) => readonly [number, number, number]): Uint8Array =>
  Uint8Array.from(Array.from({ length: SIDE * SIDE }, (_, i) => [...at(i % SIDE, Math.floor(i / SIDE)), 255]).flat());
const wave = (x: number): number => Math.sin((x / SIDE) * 2 * Math.PI);
const BASE = image((x, y) => [180 + 60 * wave(x), 150 + 60 * wave(y), 120]);
const BUMPS = image((x, y) => [128 + 40 * wave(2 * x), 128 + 40 * wave(2 * y), 230]);
const texture = (data: Uint8Array, colour: boolean): Texture => {
  const out = new DataTexture(data, SIDE, SIDE, RGBAFormat);
  out.wrapS = out.wrapT = RepeatWrapping;
  if (colour) out.colorSpace = SRGBColorSpace;
  out.needsUpdate = true;
  return out;
};

const WIDTH = 200;
const HEIGHT = 180;
const VIEW = 30;

/** Draws a ball by three.js on WebGL and by the processor, and compares the pictures. Runs in a browser. */
export function drawnTwice(ball: Ball): Difference {
  const { position, normal, uv } = new SphereGeometry(0.5, 96, 64).attributes;
  const [points, normals, uvs] = [position!, normal!, uv!].map((a) => Float32Array.from(a.array));
  const triangles = Uint32Array.from(new SphereGeometry(0.5, 96, 64).index!.array);
  const from = [0.5, 0.6, 2.2] as const;

  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(points!, 3));
  geometry.setAttribute("normal", new BufferAttribute(normals!, 3));
  geometry.setAttribute("uv", new BufferAttribute(uvs!, 2));
  geometry.setIndex(new BufferAttribute(triangles, 1));
  const material = new MeshStandardMaterial({ roughness: ball.roughness, metalness: ball.metalness });
  material.color.setRGB(...ball.color);
  if (ball.base) material.map = texture(BASE, true);
  if (ball.bumps) {
    material.normalMap = texture(BUMPS, false);
    material.normalScale.set(1, -1);
  }
  const scene = new Scene();
  scene.add(makeLights().group, new Mesh(geometry, material));
  const renderer = new WebGLRenderer({ alpha: true, preserveDrawingBuffer: true, antialias: false });
  renderer.setSize(WIDTH, HEIGHT, false);
  const camera = new PerspectiveCamera(VIEW, WIDTH / HEIGHT, 0.01, 50);
  camera.position.set(...from);
  camera.lookAt(0, 0, 0);
  renderer.render(scene, camera);
  const theirs = new Uint8Array(4 * WIDTH * HEIGHT);
  const gl = renderer.getContext();
  gl.readPixels(0, 0, WIDTH, HEIGHT, gl.RGBA, gl.UNSIGNED_BYTE, theirs);
  renderer.dispose();

  const maps = { base: null, normal: null, occlusion: null, emissive: null, roughMetal: null };
  const level = (data: Uint8Array) => pixelImage({ width: SIDE, height: SIDE, data });
  const surface: Surface = {
    ...maps,
    ...(ball.base ? { base: level(BASE) } : {}),
    ...(ball.bumps ? { normal: level(BUMPS) } : {}),
    part: 0,
    order: 0,
    hides: true,
    least: 0,
    color: ball.color,
    opacity: 1,
    roughness: ball.roughness,
    metalness: ball.metalness,
    glow: [0, 0, 0],
    bumps: 1,
    shade: 1,
    uvs: uvs!,
    tint: null,
    triangles,
    start: 0,
    end: triangles.length,
    doubleSided: false,
  };
  const frame = makeFrame(WIDTH, HEIGHT);
  const shown = { points: points!, normals: normals!, screen: new Float32Array(points!.length) };
  paintSurfaces(frame, lensOf(from, [0, 0, 0], VIEW, WIDTH, HEIGHT), [surface], [shown], true);

  let [sum, most, outline, pixels] = [0, 0, 0, 0];
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const [own, other] = [4 * (y * WIDTH + x), 4 * ((HEIGHT - 1 - y) * WIDTH + x)];
      const [here, there] = [frame.color[own + 3]! > 0, theirs[other + 3]! > 0];
      if (here !== there) outline++;
      if (!here || !there) continue;
      pixels++;
      for (let k = 0; k < 3; k++) {
        const off = Math.abs(frame.color[own + k]! - theirs[other + k]!);
        sum += off / 3;
        most = Math.max(most, off);
      }
    }
  return { mean: sum / pixels, most, outline, pixels };
}
Object.assign(globalThis, { drawnTwice });
