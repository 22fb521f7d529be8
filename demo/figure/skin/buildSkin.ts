import { lerp, type Vec3 } from "../../../core/math/vec3";
import { coonsPoint, neighbourSets, orientOutward, QuadMesh, type Quad } from "../../modelling/quadMesh";
import { COLUMNS, LAST_ROW as TOP_ROW } from "../body/torsoMesh";
import { buildHalfBody, isMiddle, type HalfBody } from "../body/halfBody";
import { buildHead, type HeadMesh } from "../head/headMesh";
import { headToWorld, mirrored } from "../placement";
import { evenOutNeck } from "./evenOutNeck";
import { placeOf, type SkinTag } from "./skinTags";
import { tidyHead } from "./tidyHead";
import { untangle } from "./untangle";

/**
 * The whole skin: one closed mesh of quads, metres, y up, facing +z. Half columns run from the front's middle to the
 * back's: 28 round the head, 18 round the body. Under the jaw a patch of 12 x 10 quads turns one into the other with
 * four poles, valence 3 at head column 6 and 5 at column 16, both sides; eight rows of 36 quads lead down to the trunk.
 */
export interface Skin {
  readonly points: Vec3[];
  readonly tags: readonly SkinTag[];
  readonly quads: readonly Quad[];
  /** Vertex of the other side; the vertex itself on the middle. */
  readonly mirror: readonly number[];
  readonly neighbours: readonly ReadonlySet<number>[];
  /** Vertices below this one are the head's. */
  readonly headCount: number;
  readonly head: HeadMesh;
  /** Rings where the limbs begin, by side. */
  readonly armholes: { readonly left: readonly number[]; readonly right: readonly number[] };
  readonly legBases: { readonly left: readonly number[]; readonly right: readonly number[] };
  /** Rings round the neck's left half, from under the jaw to the trunk's last row. */
  readonly neckRings: readonly (readonly number[])[];
}

export const PATCH_ROWS = 10;
const PATCH_COLUMNS = 6;
export const NECK_ROWS = 8;
/** Middle of the patch's back edge, on the throat. */
const THROAT: Vec3 = [0, 1.4575, 0.0465];

export function buildSkin(): Skin {
  const head = buildHead();
  const body = buildHalfBody();
  const mesh = new QuadMesh<SkinTag>();
  const mirror: number[] = [];
  head.points.forEach((p, v) =>
    mesh.add(headToWorld(p), { region: "head", head: placeOf(head.tags[v]!), side: head.tags[v]!.side }),
  );
  for (const q of head.quads) mesh.quads.push([...q] as Quad);
  mirrorHead(mesh.points, head, mirror);
  closeSockets(mesh, head, mirror);
  const headCount = head.points.length;

  const patch = chinPatch(mesh, head.bottom);
  const underJaw = [...patch[PATCH_ROWS]!.slice(0, PATCH_COLUMNS), ...head.bottom.slice(PATCH_COLUMNS + PATCH_ROWS)];
  const bodyFrom = mesh.points.length;
  addBody(mesh, body, mirror);
  const onSkin = (ring: readonly number[]): number[] => ring.map((v) => v + bodyFrom);
  const neckRings = neckStrip(mesh, underJaw, onSkin(body.torso[TOP_ROW]!));
  const added: Quad[] = [];
  for (const grid of [patch, neckRings]) {
    const start = mesh.quads.length;
    mesh.fill(grid);
    added.push(...mesh.quads.splice(start));
  }
  mirrorAdded(mesh, new Set([...patch.flat(), ...neckRings.flat()]), mirror);
  for (const [a, b, c, d] of added) mesh.quads.push([a, b, c, d], [mirror[a]!, mirror[d]!, mirror[c]!, mirror[b]!]);

  orientOutward(mesh.points, mesh.quads);
  const neighbours = neighbourSets(mesh.quads, mesh.points.length);
  const other = (ring: readonly number[]): number[] => ring.map((v) => mirror[v]!);
  const armhole = onSkin(body.armhole);
  const legBase = onSkin(body.legBase);
  const skin: Skin = {
    points: mesh.points,
    tags: mesh.tags,
    quads: mesh.quads,
    mirror,
    neighbours,
    headCount,
    head,
    neckRings,
    armholes: { left: armhole, right: other(armhole) },
    legBases: { left: legBase, right: other(legBase) },
  };
  evenOutNeck(skin, [...body.torso.slice(24).map(onSkin), ...neckRings.slice(1, NECK_ROWS)]);
  tidyHead(skin);
  untangle(skin);
  return skin;
}

/** Images of the head's vertices; the crown's are found by position. */
function mirrorHead(points: readonly Vec3[], head: HeadMesh, mirror: number[]): void {
  head.mirror.forEach((other, v) => (mirror[v] = other));
  const crown = head.tags.flatMap((tag, v) => (tag.zone === "crown" ? [v] : []));
  for (const v of crown) {
    const image = mirrored(points[v]!);
    const distance = (w: number): number => Math.hypot(...([0, 1, 2] as const).map((k) => points[w]![k] - image[k]));
    mirror[v] = crown.reduce((best, w) => (distance(w) < distance(best) ? w : best));
  }
}

/** Closes the sockets behind the eyeballs with a strip across the innermost ring. */
function closeSockets(mesh: QuadMesh<SkinTag>, head: HeadMesh, mirror: readonly number[]): void {
  const start = mesh.quads.length;
  mesh.capRing(head.eyeRings.at(-1)!, { flip: true });
  for (const q of mesh.quads.splice(start))
    mesh.quads.push(q, [mirror[q[0]]!, mirror[q[3]]!, mirror[q[2]]!, mirror[q[1]]!]);
}

/**
 * Left half of the patch under the jaw: front edge and side lie on the head's last row, the back edge on a curve over
 * the throat.
 */
function chinPatch(mesh: QuadMesh<SkinTag>, jaw: readonly number[]): number[][] {
  const { points } = mesh;
  const at = (v: number): Vec3 => points[v]!;
  const side = at(jaw[PATCH_COLUMNS + PATCH_ROWS]!);
  const backEdge = (u: number): Vec3 => [
    side[0] * Math.sin((u * Math.PI) / 2),
    THROAT[1] + (side[1] - THROAT[1]) * u * u,
    THROAT[2] + (side[2] - THROAT[2]) * (0.5 - 0.5 * Math.cos(u * Math.PI)),
  ];
  const corner = { topLeft: at(jaw[0]!), topRight: at(jaw[PATCH_COLUMNS]!), bottomLeft: THROAT, bottomRight: side };
  return Array.from({ length: PATCH_ROWS + 1 }, (_, row) =>
    Array.from({ length: PATCH_COLUMNS + 1 }, (_, column) => {
      if (row === 0) return jaw[column]!;
      if (column === PATCH_COLUMNS) return jaw[PATCH_COLUMNS + row]!;
      const s = row / PATCH_ROWS;
      const t = column / PATCH_COLUMNS;
      const p = coonsPoint(
        s,
        t,
        {
          top: at(jaw[column]!),
          bottom: backEdge(t),
          left: lerp(corner.topLeft, THROAT, s),
          right: at(jaw[PATCH_COLUMNS + row]!),
        },
        corner,
      );
      return mesh.add(column === 0 ? [0, p[1], p[2]] : p, { region: "chin", row, column, side: column === 0 ? 0 : 1 });
    }),
  );
}

/** Both halves of the body. */
function addBody(mesh: QuadMesh<SkinTag>, { mesh: half }: HalfBody, mirror: number[]): void {
  const from = mesh.points.length;
  half.points.forEach((p, v) => {
    const middle = isMiddle(half.tags[v]!);
    mesh.add(middle ? [0, p[1], p[2]] : p, { ...half.tags[v]!, side: middle ? 0 : 1 });
  });
  half.points.forEach((p, v) => {
    const image = isMiddle(half.tags[v]!) ? from + v : mesh.add(mirrored(p), { ...half.tags[v]!, side: -1 });
    mirror[from + v] = image;
    mirror[image] = from + v;
  });
  for (const q of half.quads) mesh.quads.push(q.map((v) => v + from) as Quad);
  for (const [a, b, c, d] of half.quads)
    mesh.quads.push([mirror[a + from]!, mirror[d + from]!, mirror[c + from]!, mirror[b + from]!]);
}

function neckStrip(mesh: QuadMesh<SkinTag>, upper: readonly number[], lower: readonly number[]): (readonly number[])[] {
  const between = Array.from({ length: NECK_ROWS - 1 }, (_, i) =>
    upper.map((v, column) =>
      mesh.add(lerp(mesh.points[v]!, mesh.points[lower[column]!]!, (i + 1) / NECK_ROWS), {
        region: "neck",
        row: i + 1,
        column,
        side: column === 0 || column === COLUMNS ? 0 : 1,
      }),
    ),
  );
  return [upper, ...between, lower];
}

function mirrorAdded(mesh: QuadMesh<SkinTag>, vertices: Iterable<number>, mirror: number[]): void {
  for (const v of vertices) {
    if (mirror[v] !== undefined) continue;
    const p = mesh.points[v]!;
    if (mesh.tags[v]!.side === 0) {
      mirror[v] = v;
      mesh.points[v] = [0, p[1], p[2]];
    } else {
      const image = mesh.add(mirrored(p), { ...mesh.tags[v]!, side: -1 });
      mirror[v] = image;
      mirror[image] = v;
    }
  }
}
