import { lerp, sub, type Vec3 } from "../../../core/math/vec3";
import { smoothstep } from "../../modelling/blend";
import { addScaled } from "../../modelling/fields";
import {
  coonsPoint,
  isCellInside,
  isInside,
  meanOf,
  neighbourSets,
  QuadMesh,
  windowRing,
  type GridWindow,
} from "../../modelling/quadMesh";
import { mirrored } from "../placement";
import { earRings } from "./earShape";
import { EYE_CENTRE, onHead, outermost, SKULL_CENTRE } from "./headForm";
import { EAR_WINDOW, EYE_WINDOW, headGrid, LAST_COLUMN, LAST_ROW, MOUTH_WINDOW } from "./headGrid";
import { BAG_END, type HeadPlace, type HeadTag, type Side } from "./headTags";
import { creaseAt, INNER_RINGS, lidEdge, lidMargin, LID_RINGS, turnedBack, type MarginPlace } from "./lidShape";
import { lipRings } from "./lipShape";

/** The head as one open mesh of both sides, in head units; the opening is its last row, under the jaw. */
export interface HeadMesh {
  readonly points: readonly Vec3[];
  readonly tags: readonly HeadTag[];
  readonly quads: readonly (readonly number[])[];
  /** Vertex of the other side, for the half's own vertices and their images; the crown has none here. */
  readonly mirror: readonly number[];
  /** Left half: rings round the eye from the window inward, and the margin's places by spoke. */
  readonly eyeRings: readonly (readonly number[])[];
  readonly margin: readonly MarginPlace[];
  /** Left half: rings round the mouth, from the upper lip's middle over the corner to the lower lip's. */
  readonly mouthRings: readonly (readonly number[])[];
  /** Last row of the grid, front to back. */
  readonly bottom: readonly number[];
}

type HalfMesh = QuadMesh<HeadPlace>;
interface Half {
  readonly mesh: HalfMesh;
  /** Vertex of every grid place, -1 in the windows. */
  readonly grid: readonly (readonly number[])[];
  readonly middle: Set<number>;
}

export function buildHead(): HeadMesh {
  const half = placeGrid();
  const { rings: eyeRings, margin } = buildEye(half);
  const mouthRings = buildMouth(half);
  buildEar(half);
  evenOut(half);
  evenLipCorners(half.mesh, mouthRings);
  foldUpperLid(half.mesh);
  const whole = mirrorHalf(half);
  buildCrown(whole, half.grid[0]!);
  return {
    points: whole.mesh.points,
    tags: whole.mesh.tags,
    quads: whole.mesh.quads,
    mirror: whole.mirror,
    eyeRings,
    margin,
    mouthRings,
    bottom: half.grid[LAST_ROW]!,
  };
}

const WINDOWS = [EYE_WINDOW, MOUTH_WINDOW, EAR_WINDOW];

function placeGrid(): Half {
  const mesh: HalfMesh = new QuadMesh();
  const middle = new Set<number>();
  const grid = headGrid().map((points, row) =>
    points.map((p, column) => {
      if (WINDOWS.some((w) => isInside(column, row, w))) return -1;
      const v = mesh.add(p, { zone: "grid", column, row });
      if (column === 0 || column === LAST_COLUMN) middle.add(v);
      return v;
    }),
  );
  for (let row = 0; row < LAST_ROW; row++)
    for (let column = 0; column < LAST_COLUMN; column++)
      if (!WINDOWS.some((w) => isCellInside(column, row, w)))
        mesh.quads.push([
          grid[row]![column]!,
          grid[row + 1]![column]!,
          grid[row + 1]![column + 1]!,
          grid[row]![column + 1]!,
        ]);
  return { mesh, grid, middle };
}

const borderOf = ({ grid }: Half, window: GridWindow): number[] =>
  windowRing(window).map(([column, row]) => grid[row]![column]!);
const bridgeAll = (mesh: HalfMesh, rings: readonly (readonly number[])[], closed: boolean): void => {
  for (let r = 0; r + 1 < rings.length; r++) mesh.bridge(rings[r]!, rings[r + 1]!, { closed });
};

// ---- eye
/** Share of the way from the window to the margin, ring by ring. */
const LID_SHARES = [0, 0.2, 0.38, 0.52, 0.64, 0.74, 0.83, 0.92, 1];

/**
 * The margin's places by spoke: inner corner in the middle of the window's inner side, outer corner opposite; denser
 * toward the corners.
 */
function marginPlaces(): MarginPlace[] {
  const {
    columns: [i0, i1],
    rows: [j0, j1],
  } = EYE_WINDOW;
  const quarter = (j1 - j0) / 2;
  const along = i1 - i0 + 2 * quarter;
  const eased = (s: number): number => 0.5 - 0.5 * Math.cos(Math.PI * (0.12 + 0.76 * s));
  return Array.from({ length: 2 * along }, (_, spoke) => {
    const from = (spoke + quarter) % (2 * along);
    const upper = from <= along;
    const s = (upper ? from : 2 * along - from) / along;
    return { upper, s: (eased(s) - eased(0)) / (eased(1) - eased(0)) };
  });
}

function buildEye(half: Half): { rings: number[][]; margin: MarginPlace[] } {
  const { mesh } = half;
  const border = borderOf(half, EYE_WINDOW);
  const start = border.map((v) => mesh.points[v]!);
  const margin = marginPlaces();
  const skinEdge = margin.map((m) => lidEdge(lidMargin(m), m, true));
  const eyeEdge = margin.map((m) => lidEdge(lidMargin(m), m, false));
  const rings = [border];
  const addRing = (points: readonly Vec3[], share: number, inner: boolean): void => {
    const ring = rings.length;
    rings.push(points.map((p, spoke) => mesh.add(p, { zone: "lid", ring, spoke, ...margin[spoke]!, share, inner })));
  };
  for (let r = 1; r <= LID_RINGS; r++)
    addRing(
      r === LID_RINGS ? skinEdge : skinEdge.map((edge, k) => onHead(lerp(start[k]!, edge, LID_SHARES[r]!), 5)),
      LID_SHARES[r]!,
      false,
    );
  addRing(eyeEdge, 1, true);
  INNER_RINGS.forEach((_, i) =>
    addRing(
      eyeEdge.map((p) => turnedBack(p, i)),
      1,
      true,
    ),
  );
  bridgeAll(mesh, rings, true);
  return { rings, margin };
}

// ---- mouth
/** Skin rings between the window and the lips' border, as shares of the way. */
const MOUTH_SKIN = [0.3, 0.56, 0.79];

function buildMouth(half: Half): number[][] {
  const { mesh, middle } = half;
  const border = windowRing({ ...MOUTH_WINDOW, columns: [0, MOUTH_WINDOW.columns[1]] })
    .slice(0, -(MOUTH_WINDOW.rows[1] - MOUTH_WINDOW.rows[0]) + 1)
    .map(([column, row]) => half.grid[row]![column]!);
  const last = border.length - 1;
  const places = border.map((_, k) => ({ upper: k <= last / 2, t: (k <= last / 2 ? k : last - k) / (last / 2) }));
  const lips = lipRings(places);
  const start = border.map((v) => mesh.points[v]!);
  const rings = [border];
  const addRing = (points: readonly Vec3[], layer: (typeof lips)[number]["layer"], share: number): void => {
    const ring = rings.length;
    rings.push(
      points.map((p, spoke) => {
        const v = mesh.add(p, { zone: "mouth", layer, ring, spoke, ...places[spoke]!, share, throat: null });
        if (spoke === 0 || spoke === last) middle.add(v);
        return v;
      }),
    );
  };
  for (const share of MOUTH_SKIN)
    addRing(
      lips[0]!.points.map((p, k) => {
        const q = onHead(lerp(start[k]!, p, share), 5);
        return k === 0 || k === last ? [0, q[1], q[2]] : q;
      }),
      "skin",
      share,
    );
  for (const { layer, points } of lips) addRing(points, layer, 1);
  bridgeAll(mesh, rings, false);
  closeBag(half, rings.at(-1)!);
  return rings;
}

/** Closes the mouth's bag with a patch between the roof and the floor of its last ring. */
function closeBag({ mesh, middle }: Half, ring: readonly number[]): void {
  const columns = (ring.length - 1) / 4;
  const rows = (ring.length - 1) / 2;
  const { points } = mesh;
  const roof = ring.slice(0, columns + 1);
  const floor = ring.slice(-columns - 1).reverse();
  const side = ring.slice(columns, columns + rows + 1);
  const corner = {
    topLeft: points[roof[0]!]!,
    topRight: points[roof[columns]!]!,
    bottomLeft: points[floor[0]!]!,
    bottomRight: points[floor[columns]!]!,
  };
  const patch = Array.from({ length: rows + 1 }, (_, row) =>
    Array.from({ length: columns + 1 }, (_, column) => {
      if (row === 0) return roof[column]!;
      if (row === rows) return floor[column]!;
      if (column === columns) return side[row]!;
      const s = row / rows;
      const t = column / columns;
      const p = coonsPoint(
        s,
        t,
        {
          top: points[roof[column]!]!,
          bottom: points[floor[column]!]!,
          left: lerp(corner.topLeft, corner.bottomLeft, s),
          right: points[side[row]!]!,
        },
        corner,
      );
      const v = mesh.add([column === 0 ? 0 : p[0], p[1], p[2] - 4 * Math.sin(Math.PI * s) * (1 - t * t)], {
        zone: "mouth",
        layer: "bag",
        ring: BAG_END,
        spoke: 0,
        upper: s < 0.5,
        t,
        share: 1,
        throat: s,
      });
      if (column === 0) middle.add(v);
      return v;
    }),
  );
  mesh.fill(patch);
}

// ---- ear
function buildEar(half: Half): void {
  const { mesh } = half;
  const border = borderOf(half, EAR_WINDOW);
  const rings = [
    border,
    ...earRings(border.map((v) => mesh.points[v]!)).map((points, ring) =>
      points.map((p, spoke) => mesh.add(p, { zone: "ear", ring: ring + 1, spoke })),
    ),
  ];
  bridgeAll(mesh, rings, true);
  mesh.capRing(rings.at(-1)!, { flip: true });
}

// ---- evening out
const isNear = (column: number, row: number, { columns, rows }: GridWindow): boolean =>
  column >= columns[0] - 3 && column <= columns[1] + 3 && row >= rows[0] - 3 && row <= rows[1] + 3;

/** How much a vertex gives way when the skin round the windows is evened out. */
function giving(place: HeadPlace): number {
  if (place.zone === "lid")
    return place.inner || place.ring >= LID_RINGS ? 0 : place.ring === LID_RINGS - 1 ? 0.1 : 0.35;
  if (place.zone === "mouth") return place.layer === "skin" ? 0.35 : 0;
  if (place.zone !== "grid" || place.row === 0 || place.row === LAST_ROW) return 0;
  if (isNear(place.column, place.row, EYE_WINDOW) || isNear(place.column, place.row, MOUTH_WINDOW)) return 0.3;
  return isNear(place.column, place.row, EAR_WINDOW) ? 0.2 : 0;
}

function evenOut({ mesh: { points, quads, tags }, middle }: Half): void {
  const neighbours = neighbourSets(quads, points.length);
  for (let round = 0; round < 10; round++) {
    const before = points.slice();
    tags.forEach((place, v) => {
      const share = giving(place);
      if (share === 0) return;
      const around = [...neighbours[v]!].map((n) => before[n]!);
      if (middle.has(v)) for (const n of neighbours[v]!) if (!middle.has(n)) around.push(mirrored(before[n]!));
      const p = onHead(lerp(before[v]!, meanOf(around, around.keys()), share), 3);
      points[v] = middle.has(v) ? [0, p[1], p[2]] : p;
    });
  }
}

/** Even steps from the skin over the lips' border to the seam at the mouth's corner. */
function evenLipCorners({ points, tags }: HalfMesh, rings: readonly (readonly number[])[]): void {
  const tOf = (v: number): number => (tags[v] as { t: number }).t;
  for (const [ring, share] of [
    [3, 0.34],
    [2, 0.66],
  ] as const)
    rings[ring]!.forEach((v, k) => {
      if (tOf(v) <= 0.8) return;
      const even = lerp(points[rings[4]![k]!]!, points[rings[1]![k]!]!, share);
      points[v] = onHead(lerp(points[v]!, even, ((tOf(v) - 0.8) / 0.2) ** 2), 4);
    });
  for (const [ring, share] of [
    [5, 0.22],
    [6, 0.5],
    [7, 0.78],
  ] as const)
    rings[ring]!.forEach((v, k) => {
      if (tOf(v) <= 0.7) return;
      points[v] = lerp(
        points[v]!,
        lerp(points[rings[4]![k]!]!, points[rings[8]![k]!]!, share),
        smoothstep(0.68, 1, tOf(v)),
      );
    });
}

/** Groove of the upper lid's crease and the fold above it. */
function foldUpperLid({ points, tags }: HalfMesh): void {
  tags.forEach((place, v) => {
    if (place.zone !== "lid" || place.inner || !place.upper || place.ring >= LID_RINGS) return;
    const out = sub(points[v]!, EYE_CENTRE);
    points[v] = addScaled(points[v]!, out, -creaseAt(place.ring, place.s) / Math.hypot(...out));
  });
}

// ---- both sides
interface Whole {
  readonly mesh: QuadMesh<HeadTag>;
  readonly mirror: number[];
}

function mirrorHalf({ mesh: half, middle }: Half): Whole {
  const mesh = new QuadMesh<HeadTag>();
  half.points.forEach((p, v) => mesh.add(p, { ...half.tags[v]!, side: middle.has(v) ? 0 : 1 }));
  const mirror = half.points.map((p, v) => (middle.has(v) ? v : mesh.add(mirrored(p), { ...half.tags[v]!, side: -1 })));
  mirror.slice().forEach((other, v) => (mirror[other] = v));
  for (const q of half.quads) mesh.quads.push([...q]);
  for (const [a, b, c, d] of half.quads) mesh.quads.push([mirror[d]!, mirror[c]!, mirror[b]!, mirror[a]!]);
  return { mesh, mirror };
}

/** Closes the crown with a square patch whose corners lie 45 degrees off the middle. */
function buildCrown({ mesh, mirror }: Whole, firstRow: readonly number[]): void {
  const ring = [
    ...firstRow,
    ...firstRow
      .slice(1, -1)
      .reverse()
      .map((v) => mirror[v]!),
  ];
  const n = ring.length / 4;
  const at = (k: number): number => ring[(k + ring.length) % ring.length]!;
  const { points } = mesh;
  const front = Array.from({ length: n + 1 }, (_, k) => at(k - n / 2));
  const left = Array.from({ length: n + 1 }, (_, k) => at(n / 2 + k));
  const back = Array.from({ length: n + 1 }, (_, k) => at(n / 2 + 2 * n - k));
  const right = Array.from({ length: n + 1 }, (_, k) => at(-n / 2 - k));
  const corner = {
    topLeft: points[front[0]!]!,
    topRight: points[front[n]!]!,
    bottomLeft: points[back[0]!]!,
    bottomRight: points[back[n]!]!,
  };
  const patch = Array.from({ length: n + 1 }, (_, row) =>
    Array.from({ length: n + 1 }, (_, column) => {
      if (row === 0) return front[column]!;
      if (row === n) return back[column]!;
      if (column === n) return left[row]!;
      if (column === 0) return right[row]!;
      const p = coonsPoint(
        row / n,
        column / n,
        {
          top: points[front[column]!]!,
          bottom: points[back[column]!]!,
          left: points[right[row]!]!,
          right: points[left[row]!]!,
        },
        corner,
      );
      const out = sub(p, [SKULL_CENTRE[0], SKULL_CENTRE[1] - 30, SKULL_CENTRE[2]]);
      const l = Math.hypot(...out);
      const side: Side = Math.abs(p[0]) < 1e-6 ? 0 : p[0] > 0 ? 1 : -1;
      return mesh.add(outermost(SKULL_CENTRE, [out[0] / l, out[1] / l, out[2] / l]), { zone: "crown", side });
    }),
  );
  for (let row = 0; row < n; row++)
    for (let column = 0; column < n; column++)
      mesh.quads.push([
        patch[row]![column]!,
        patch[row]![column + 1]!,
        patch[row + 1]![column + 1]!,
        patch[row + 1]![column]!,
      ]);
  const neighbours = neighbourSets(mesh.quads, points.length);
  const moving = [...new Set(patch.flat())];
  for (let round = 0; round < 30; round++) {
    const moved = moving.map((v) => onHead(lerp(points[v]!, meanOf(points, neighbours[v]!), 0.5), 2));
    moving.forEach((v, k) => (points[v] = moved[k]!));
  }
}
