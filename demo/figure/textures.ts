import type { MaterialMap, TextureImage } from "../../core/model/character";
import { writePng } from "../../core/edits/textures/shrinkImage";
import type { Pixels } from "../../core/edits/textures/readPng";
import { repeatable } from "../modelling/repeatable";
import { smoothStep } from "../../core/math/smoothStep";

/** A number for each place of a tile that repeats, 0..1 along both ways. */
type Field = (x: number, y: number) => number;

/** An index that may lie outside, brought back into a row that repeats. */
const around = (i: number, count: number): number => ((i % count) + count) % count;

/** Smooth noise 0..1 that repeats after one tile. @param cells along each way. */
function noise(cellsX: number, cellsY: number, seed: number): Field {
  const random = repeatable(seed);
  const values = Float64Array.from({ length: cellsX * cellsY }, () => random());
  return (x, y) => {
    const fx = x * cellsX;
    const fy = y * cellsY;
    const x0 = Math.floor(fx);
    const y0 = Math.floor(fy);
    const left = around(x0, cellsX);
    const right = around(x0 + 1, cellsX);
    const below = cellsX * around(y0, cellsY);
    const above = cellsX * around(y0 + 1, cellsY);
    const tx = smoothStep(fx - x0);
    const ty = smoothStep(fy - y0);
    const low = values[below + left]! * (1 - tx) + values[below + right]! * tx;
    const high = values[above + left]! * (1 - tx) + values[above + right]! * tx;
    return low * (1 - ty) + high * ty;
  };
}

type Colour = readonly [number, number, number, number?];

/** A picture of so many pixels a side; colours 0..1 as they are stored. */
function picture(side: number, at: (x: number, y: number) => Colour): Pixels {
  const data = new Uint8Array(4 * side * side);
  for (let i = 0; i < side * side; i++) {
    const colour = at(((i % side) + 0.5) / side, (Math.floor(i / side) + 0.5) / side);
    for (let c = 0; c < 4; c++) data[4 * i + c] = Math.round(255 * Math.min(1, Math.max(0, colour[c] ?? 1)));
  }
  return { width: side, height: side, data };
}

const png = (name: string, pixels: Pixels): TextureImage => ({ name, mimeType: "image/png", bytes: writePng(pixels) });
const grey = (v: number): Colour => [v, v, v];

/** Normal map of a height (glTF 2.0, 3.9.3: green up). @param deep height of 1 against the side of the tile. */
function normalMap(name: string, side: number, height: Field, deep: number): MaterialMap {
  const step = 1 / side;
  const pixels = picture(side, (x, y) => {
    const dx = ((height(x + step, y) - height(x - step, y)) / (2 * step)) * deep;
    const dy = ((height(x, y + step) - height(x, y - step)) / (2 * step)) * deep;
    const l = Math.hypot(dx, dy, 1);
    return [0.5 - dx / l / 2, 0.5 + dy / l / 2, 0.5 + 1 / l / 2];
  });
  return { ...png(name, pixels), slot: "normal", strength: 1 };
}

/** Roughness in green, as a factor of the material's own; blue stays full, for the material says how metallic it is. */
const roughMap = (name: string, side: number, rough: Field): MaterialMap => ({
  ...png(
    name,
    picture(side, (x, y) => [1, rough(x, y), 1]),
  ),
  slot: "metallic roughness",
  strength: 1,
});

interface Look {
  readonly texture?: TextureImage;
  readonly maps: readonly MaterialMap[];
}

/** Pores and fine lines, over 40 mm. */
function skinLook(): Look {
  const pores = noise(40, 40, 11);
  const patches = noise(9, 9, 12);
  const lines = noise(26, 60, 13);
  const height: Field = (x, y) => 0.55 * pores(x, y) + 0.25 * lines(x, y) + 0.2 * patches(x, y);
  return {
    texture: png(
      "skin_color",
      picture(128, (x, y) => {
        const warm = 0.04 * (patches(x, y) - 0.5) + 0.03 * (pores(x, y) - 0.5);
        return [0.98 + warm / 2, 0.965 + warm, 0.96 + warm];
      }),
    ),
    maps: [
      normalMap("skin_normal", 128, height, 0.0022),
      roughMap("skin_roughness", 128, (x, y) => 0.82 + 0.18 * (0.6 * pores(x, y) + 0.4 * patches(x, y))),
    ],
  };
}

/** Threads of a plain weave. @param count threads each way in a tile; an even number. */
function weave(count: number): Field {
  return (x, y) => {
    const [i, j] = [Math.floor(x * count), Math.floor(y * count)];
    const [u, v] = [x * count - i, y * count - j];
    const over = (i + j) % 2 === 0;
    const [across, along] = over ? [u, v] : [v, u];
    return Math.sin(Math.PI * across) * (0.55 + 0.45 * Math.sin(Math.PI * along));
  };
}

function clothLook(name: string, threads: number, twill: boolean, seed: number): Look {
  const plain = weave(threads);
  const slub = noise(threads, 6, seed);
  const worn = noise(7, 7, seed + 1);
  const height: Field = (x, y) => (twill ? 0.5 + 0.5 * Math.sin(2 * Math.PI * threads * (x + y)) : plain(x, y));
  return {
    texture: png(
      `${name}_color`,
      picture(128, (x, y) => grey(0.84 + 0.1 * height(x, y) + 0.06 * slub(x, y) - 0.05 * worn(x, y))),
    ),
    maps: [
      normalMap(`${name}_normal`, 128, height, 0.011),
      roughMap(`${name}_roughness`, 128, (x, y) => 0.9 + 0.1 * worn(x, y)),
    ],
  };
}

/** Strands that run down the picture; at its upper edge they begin one by one. */
function hairLook(): Look {
  const fine = noise(64, 3, 31);
  const locks = noise(14, 2, 32);
  const begins = noise(150, 1, 33);
  const strand: Field = (x, y) => 0.6 * fine(x, y) + 0.4 * locks(x, y);
  return {
    texture: png(
      "hair_color",
      picture(256, (x, y) => {
        const light = 0.72 + 0.28 * strand(x, y);
        const edge = 0.006 + 0.02 * begins(x, 0.5);
        return [light, light, light, Math.min(1, Math.max(0, 0.5 + (y - edge) / 0.008))];
      }),
    ),
    maps: [
      normalMap("hair_normal", 256, strand, 0.012),
      roughMap("hair_roughness", 128, (x, y) => 0.78 + 0.22 * fine(x, y)),
    ],
  };
}

/** Three lashes side by side that come together at the tip, root below. */
function lashLook(): Look {
  return {
    texture: png(
      "lash_color",
      picture(64, (x, y) => {
        const along = 1 - y;
        const thick = 0.13 * (1 - 0.8 * along);
        const nearest = Math.min(...[-1, 0, 1].map((k) => Math.abs(x - 0.5 - k * 0.3 * (1 - 0.75 * along))));
        const shorter = along > 0.97 ? (1 - along) / 0.03 : 1;
        return [1, 1, 1, shorter * Math.min(1, Math.max(0, (thick - nearest) / 0.05 + 0.5))];
      }),
    ),
    maps: [],
  };
}

/** Share of the disc's half width that the iris takes, and the angle of its edge, degrees. */
const IRIS_SHARE = 0.8;
const IRIS_EDGE = 28;

/** An eyeball laid out as a disc, its axis in the middle. @param angle from the axis, degrees. */
export function eyeDisc(angle: number, spoke: number): [number, number] {
  const r =
    angle <= IRIS_EDGE
      ? (IRIS_SHARE * angle) / IRIS_EDGE
      : IRIS_SHARE + ((1 - IRIS_SHARE) * (angle - IRIS_EDGE)) / (180 - IRIS_EDGE);
  return [0.5 + 0.5 * r * Math.cos(spoke), 0.5 - 0.5 * r * Math.sin(spoke)];
}

/** Fibres of the iris, its darker rim, and veins on the white. */
function eyeLook(): Look {
  const fibres = noise(96, 4, 51);
  const ring = noise(40, 3, 52);
  const veins = noise(48, 5, 53);
  return {
    texture: png(
      "eye_color",
      picture(256, (x, y) => {
        const [dx, dy] = [2 * x - 1, 1 - 2 * y];
        const r = Math.hypot(dx, dy);
        const turn = Math.atan2(dy, dx) / (2 * Math.PI) + 0.5;
        if (r < IRIS_SHARE) {
          const share = r / IRIS_SHARE;
          const rim = Math.min(1, Math.max(0, (share - 0.82) / 0.18));
          const fibre = 0.72 + 0.28 * (0.65 * fibres(turn, share) + 0.35 * ring(turn, share));
          return grey(fibre * (1 - 0.55 * rim * rim) + 0.12 * Math.exp(-(((share - 0.45) / 0.12) ** 2)));
        }
        const vein = Math.max(0, veins(turn, r) - 0.78) * 1.4 * Math.min(1, (r - IRIS_SHARE) / 0.08);
        return [1, 1 - vein, 1 - vein];
      }),
    ),
    maps: [],
  };
}

/** Looks of the figure's materials by name, small pictures drawn by rule. */
export const LOOKS: Readonly<Record<string, Look>> = {
  skin: skinLook(),
  "top cloth": clothLook("top", 24, false, 71),
  "trouser cloth": clothLook("trousers", 20, true, 75),
  hair: hairLook(),
  lash: lashLook(),
  eye: eyeLook(),
};

/** Sides of the tiles on skin and cloth, metres. */
export const TILE = { skin: 0.04, top: 0.03, trousers: 0.03 } as const;
