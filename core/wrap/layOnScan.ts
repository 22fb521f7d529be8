import { placeNormals } from "../deform/placeNormals";
import type { PlainMesh } from "../formats/readPly";
import { buildBvh, closestPoint, type Bvh } from "../math/bvh";
import { outerTriangles } from "../measure/outerSkin";
import type { Tick } from "../measure/sweepMotion";
import { triangulate, vertexCountOf, type Character, type Part, type ShapeDelta } from "../model/character";
import { mirrorMap, NO_MIRROR } from "../model/mirrorMap";
import { UserError } from "../model/userError";
import { carryMovement, carrySurface } from "../surface/carryMovement";
import { sparseDelta } from "../shapes/sparseDelta";
import { determinant } from "../math/similarity";
import type { Vec3 } from "../math/vec3";
import { fitSphere } from "../measure/fitSphere";
import { applyLinear, fitAffine, type Affine } from "../transfer/affineFit";
import { contactsOf, tiesAt } from "../transfer/contacts";
import { borderVertices, layOn, STIFFNESS, type SkinTie } from "../transfer/layOn";
import { seatEyeball } from "./seatEyeball";
import { scanPart } from "./placeScan";

/** What came of laying the character's own skin on a scan. */
export interface LaidOnScan {
  /** Movement that brings the skin there, with the parts that go along. */
  readonly deltas: readonly ShapeDelta[];
  /** Distance of the laid outer skin to the scan, mm: middle, nineteen in twenty, largest. */
  readonly medianMm: number;
  readonly p95Mm: number;
  readonly largestMm: number;
  /** That distance at each vertex that was asked, mm. */
  readonly off: { readonly vertices: Uint32Array; readonly mm: Float32Array };
  /** How far each known place lies from where it was set, mm, in their order. */
  readonly tiesMm: readonly number[];
}

export interface ScanOptions {
  /** Places of the skin that are known on the scan. */
  readonly ties?: readonly SkinTie[];
  /** 0..1 for each vertex of the body: above a half nothing draws it, and it follows. */
  readonly leftOut?: Float32Array | null;
  /** Whether both sides get the mean of what left and right would. */
  readonly symmetric?: boolean;
  /** How closely the skin is laid on: 1 to the last step, less leaves the softest steps out. */
  readonly closeness?: number;
}

/** Skin that lies farther than this from the scan is left where it is, and fades into what is laid; metres. */
const ROUND = 0.035;
/** Stiffness of the first movement, which knows the set places alone. */
const FIRST = 30;
/** Movement below this is left out, metres. */
const LEAST = 1e-5;
/** Skin within so many of a part's own radii of its middle says where the part goes, */
const NEAR = 2.6;
/** and skin within this of it how its size changes, metres. */
const WIDE = 0.06;
const FOLLOWERS: ReadonlySet<string> = new Set(["lash", "tear line", "brow", "hair"]);
const SEATED: ReadonlySet<string> = new Set(["eye", "teeth", "tongue"]);

/**
 * Lays the character's own skin on a scanned or sculpted mesh of any net that stands roughly in its place: the vertices
 * keep their order, so that every shape, weight and driver stays. Known places are brought together first and then give
 * way to what lies near. What the scan lacks (inside of the mouth, sockets, what is left out by mask) follows smoothly;
 * lashes, tear lines, brows and hair follow the skin, eyes, teeth and tongue are placed anew at their own form.
 * @param scan in the character's place, metres. @throws UserError when the scan lies nowhere near the skin.
 */
export async function layOnScan(
  character: Character,
  scan: PlainMesh,
  { ties = [], leftOut = null, symmetric = false, closeness = 1 }: ScanOptions = {},
  tick: Tick = () => {},
): Promise<LaidOnScan> {
  const index = character.parts.findIndex((p) => p.kind === "body");
  const body = character.parts[index];
  if (!body) throw new UserError("The character has no body.", "scan", "Set the kind of the skin's part at Intake.");
  const target: Part = scanPart(scan);
  const onto = triangulate(target).triangles;
  const bvh = buildBvh(onto, scan.positions);
  const P = body.positions;
  const all = new Uint8Array(P.length / 3).fill(1);
  const first = ties.length ? await layOn(body, P, all, target, { ties, leftOut: all, stiffness: [FIRST] }) : P;
  const free = nearScan(body, first, P, bvh, scan.positions, ties.length > 0);
  refuseFar(body, free);
  const start = first === P ? P : P.map((x, i) => (free[Math.floor(i / 3)] ? first[i]! : x));
  const steps = STIFFNESS.slice(0, Math.max(3, Math.round(STIFFNESS.length * closeness)));
  // lips that touch at rest touch on the new face too
  const touching = contactsOf(
    triangulate(body).triangles,
    P,
    placeNormals(body)(P),
    Array.from(free.keys()).filter((v) => free[v]),
  );
  const drawn = await layOn(
    body,
    start,
    free,
    target,
    {
      ties,
      kept: tiesAt(touching, start),
      held: true,
      openBorder: true,
      stiffness: steps,
      ...(leftOut ? { leftOut: Uint8Array.from(leftOut, (m) => (m > 0.5 ? 1 : 0)) } : {}),
    },
    tick,
  );
  const laid = symmetric ? evened(P, drawn) : drawn;
  const skin = sparseDelta(
    index,
    laid.map((x, i) => x - P[i]!),
    LEAST,
  );
  const surface = carrySurface(body);
  const others = character.parts.flatMap((part, p): ShapeDelta[] => {
    if (FOLLOWERS.has(part.kind)) return [carryMovement(character, p, skin, surface)].filter((d) => d !== null);
    return SEATED.has(part.kind) ? [seated(part, p, body, laid, free)].filter((d) => d !== null) : [];
  });
  return {
    deltas: [skin, ...others].sort((a, b) => a.part - b.part),
    tiesMm: ties.map((t) => tieMm(t, laid)),
    ...distances(body, laid, free, leftOut, scan, bvh),
  };
}

function refuseFar({ name }: Part, free: Uint8Array): void {
  if (free.reduce((n, f) => n + f, 0) < 50)
    throw new UserError(
      `Hardly any of ${name} lies within ${1000 * ROUND} mm of the scan.`,
      "scan",
      "Bring the scan to the character's place and size first: head on head, in metres, facing +Z.",
    );
}

const tieMm = ({ corners, shares, to }: SkinTie, laid: Float32Array): number =>
  1000 *
  Math.hypot(...[0, 1, 2].map((c) => corners.reduce((sum, v, k) => sum + shares[k]! * laid[3 * v + c]!, 0) - to[c]!));

/** Vertices that may be laid: near the scan, or moved by the places that are known. */
function nearScan(
  body: Part,
  first: Float32Array,
  P: Float32Array,
  bvh: Bvh,
  scan: Float32Array,
  known: boolean,
): Uint8Array {
  return Uint8Array.from({ length: vertexCountOf(body) }, (_, v) => {
    const near = (at: Float32Array): boolean =>
      closestPoint(bvh, scan, at[3 * v]!, at[3 * v + 1]!, at[3 * v + 2]!, ROUND).triangle >= 0;
    return near(first) || (known && near(P)) ? 1 : 0;
  });
}

/**
 * Both sides moved by the mean of their movements; the midline stays on its plane. @param P at rest, @param laid moved,
 * 3 x vertexCount each.
 */
export function evened(P: Float32Array, laid: Float32Array): Float32Array {
  const mirror = mirrorMap(P);
  const out = laid.slice();
  mirror.forEach((m, v) => {
    if (m === NO_MIRROR) return;
    for (let c = 0; c < 3; c++) {
      const [own, other] = [laid[3 * v + c]! - P[3 * v + c]!, laid[3 * m + c]! - P[3 * m + c]!];
      out[3 * v + c] = P[3 * v + c]! + (own + (c === 0 ? -1 : 1) * other) / 2;
    }
  });
  return out;
}

/**
 * A rigid part moved as the skin round it moved on the whole: its middle goes along, and its size.
 * An eyeball stays round and goes where the lids lie on it as they did.
 */
function seated(part: Part, index: number, body: Part, laid: Float32Array, free: Uint8Array): ShapeDelta | null {
  const P = body.positions;
  const Q = part.positions;
  const middle = [0, 1, 2].map((c) => {
    let sum = 0;
    for (let i = c; i < Q.length; i += 3) sum += Q[i]!;
    return sum / (Q.length / 3);
  });
  let radius = 0;
  for (let v = 0; v < Q.length / 3; v++)
    radius = Math.max(
      radius,
      Math.hypot(Q[3 * v]! - middle[0]!, Q[3 * v + 1]! - middle[1]!, Q[3 * v + 2]! - middle[2]!),
    );
  const fitWithin = (reach: number): Affine | null => {
    const near = Array.from({ length: P.length / 3 }, (_, v) => v).filter(
      (v) =>
        free[v] && Math.hypot(P[3 * v]! - middle[0]!, P[3 * v + 1]! - middle[1]!, P[3 * v + 2]! - middle[2]!) < reach,
    );
    const pick = (A: Float32Array): number[] => near.flatMap((v) => [A[3 * v]!, A[3 * v + 1]!, A[3 * v + 2]!]);
    return near.length < 20 ? null : fitAffine(pick(P), pick(laid));
  };
  const [place, around] = [fitWithin(NEAR * radius), fitWithin(WIDE)];
  if (!place || !around) return null;
  const to = applyLinear(place.linear, middle[0]!, middle[1]!, middle[2]!).map((x, c) => x + place.shift[c]!);
  const size = Math.cbrt(Math.abs(determinant(around.linear)));
  const ball = part.kind === "eye" ? fitSphere(Q) : null;
  if (ball) {
    const by = seatEyeball(
      ball,
      size,
      [0, 1, 2].map((c) => to[c]! + size * (ball.centre[c]! - middle[c]!)) as unknown as Vec3,
      P,
      laid,
      free,
    );
    for (let c = 0; c < 3; c++) to[c]! += by[c]!;
  }
  // an eyeball stays a ball; teeth and tongue grow as wide, as high and as deep as the jaws round them
  const sizes = ball ? [size, size, size] : [0, 4, 8].map((k) => Math.abs(around.linear[k]!));
  const moved = sparseDelta(
    index,
    Float32Array.from(Q, (x, i) => to[i % 3]! + sizes[i % 3]! * (x - middle[i % 3]!) - x),
    LEAST,
  );
  return moved.vertices.length ? moved : null;
}

function distances(
  body: Part,
  laid: Float32Array,
  free: Uint8Array,
  leftOut: Float32Array | null,
  scan: PlainMesh,
  bvh: Bvh,
): Pick<LaidOnScan, "medianMm" | "p95Mm" | "largestMm" | "off"> {
  const own = triangulate(body).triangles;
  const whole = buildBvh(own, laid);
  const border = borderVertices(bvh.triangles);
  const asked: number[] = [];
  for (let t = 0; t < own.length / 3; t++)
    if ([0, 1, 2].every((k) => free[own[3 * t + k]!] && !((leftOut?.[own[3 * t + k]!] ?? 0) > 0.5))) asked.push(t);
  const outer = new Set<number>();
  for (const t of outerTriangles(whole, laid, asked)) for (let k = 0; k < 3; k++) outer.add(own[3 * t + k]!);
  // what is nearest to the scan's border lies beyond the scan
  const found = [...outer]
    .map((v) => ({ v, c: closestPoint(bvh, scan.positions, laid[3 * v]!, laid[3 * v + 1]!, laid[3 * v + 2]!) }))
    .filter(({ c }) => c.triangle >= 0 && ![0, 1, 2].some((k) => border.has(bvh.triangles[3 * c.triangle + k]!)));
  const vertices = Uint32Array.from(found, (f) => f.v);
  const mm = Float32Array.from(found, (f) => 1000 * f.c.distance);
  const sorted = mm.slice().sort();
  const at = (share: number): number => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
  return { medianMm: at(0.5), p95Mm: at(0.95), largestMm: at(1), off: { vertices, mm } };
}
