import { placeNormals } from "../deform/placeNormals";
import { eyesThroughLids } from "../measure/eyesThroughLids";
import { buildBvh } from "../math/bvh";
import type { Tick } from "../measure/sweepMotion";
import { pushLidsOut } from "../edits/mend/mendFace";
import { triangulate, type Character, type Part, type Shape, type ShapeDelta } from "../model/character";
import { movedBy } from "../model/movedBy";
import { UserError } from "../model/userError";
import { sparseDelta } from "../shapes/sparseDelta";
import { mixShapes } from "../shapes/mixShapes";
import { unturnFaces } from "../shapes/unturnFaces";
import { carryMovement, carryPoints, carrySurface, fullMovement } from "../surface/carryMovement";
import { applyLinear, fitAffine, fitBoxes } from "./affineFit";
import { contactsLike, contactsOf, tiesAt } from "./contacts";
import { correspondence, knownPlaces, type Correspondence } from "./correspondence";
import { deformationGradients } from "./deformationGradients";
import { surfaceFromGradients, transferSurface, type TransferSurface } from "./transferSurface";
import { poseDriven } from "../model/drivenShapes";

/** Movement below this is left out, metres. */
const LEAST = 5e-6;
/** Parts that go with the skin they sit on. */
const FOLLOWERS: ReadonlySet<string> = new Set(["lash", "tear line", "brow", "hair", "garment"]);

export interface TransferResult {
  readonly shapes: readonly Shape[];
  /** Shapes that were left out, and why. */
  readonly leftOut: readonly { readonly name: string; readonly why: string }[];
  /** How the two surfaces were brought together, as a sentence. */
  readonly how: string;
}

/** Shapes that can be carried to another body: those that change no proportions and are driven by no joint. */
export const transferable = (source: Character): Shape[] =>
  source.shapes.filter((s) => !s.jointOffsets && !poseDriven(source).has(s.name));

/**
 * Carries shapes of one character over to another: every triangle of the skin deforms as the one it stands for does
 * (deformation transfer), lids and lips that meet there meet here, lids are kept off the eyeballs, lashes, tear lines
 * and brows follow the skin, teeth, tongue and eyes take the movement at their own size. Changes nothing of either
 * character.
 * @param names shapes to carry; others are passed over. @throws UserError when either has no body or the bodies cannot
 * be brought together.
 */
export async function transferShapes(
  source: Character,
  target: Character,
  names: readonly string[],
  tick: Tick = () => {},
): Promise<TransferResult> {
  const [from, to] = [bodyOf(source), bodyOf(target)];
  const wanted = new Set(names);
  const chosen = source.shapes.filter((s) => wanted.has(s.name));
  const can = new Set(transferable(source));
  const leftOut = chosen
    .filter((s) => !can.has(s))
    .map((s) => ({
      name: s.name,
      why: s.jointOffsets
        ? "It changes proportions: make it on this body."
        : "A joint drives it: correct this body's own joints.",
    }));
  const list = chosen.filter((s) => can.has(s));
  const steps = list.length + 2;
  await tick(0, steps);
  const pairs = partPairs(source, target);
  const moved = new Uint8Array(source.parts[from]!.positions.length / 3);
  for (const shape of list) for (const d of shape.deltas) if (d.part === from) for (const v of d.vertices) moved[v] = 1;
  const match = await correspondence(
    source.parts[from]!,
    target.parts[to]!,
    moved,
    knownPlaces(source, target, pairs),
    () => tick(0, steps),
  );
  await tick(1, steps);
  const carry = makeCarry(source, target, match, pairs);
  const shapes: Shape[] = [];
  for (const [i, shape] of list.entries()) {
    await tick(1 + i, steps);
    shapes.push(carry(shape));
  }
  await tick(steps - 1, steps);
  const seated = await keepLidsOff(target, shapes, to, steps, tick);
  await tick(steps, steps);
  const still = seated.filter((s) => !s.deltas.length);
  return {
    shapes: seated.filter((s) => s.deltas.length),
    leftOut: [...leftOut, ...still.map((s) => ({ name: s.name, why: "It moves nothing that this character has." }))],
    how: match.how,
  };
}

/** Carries one shape over, part by part. */
function makeCarry(
  source: Character,
  target: Character,
  match: Correspondence,
  pairs: ReadonlyMap<number, number>,
): (shape: Shape) => Shape {
  const [from, to] = [bodyOf(source), bodyOf(target)];
  const { triangles } = triangulate(target.parts[to]!);
  const surface = transferSurface(triangles, target.parts[to]!.positions);
  const skin = makeSkinTransfer(source.parts[from]!, target.parts[to]!, match, surface);
  const carrier = carrySurface(target.parts[to]!);
  const sourceCarrier = carrySurface(source.parts[from]!);
  const sizes = makeSizes(source, from, target, match);
  return (shape) => {
    const own = shape.deltas.find((d) => d.part === from);
    const onSkin = own ? sparseDelta(to, skin(own), LEAST) : null;
    const others = target.parts.flatMap((part, p): ShapeDelta[] => {
      if (p === to) return [];
      const q = pairs.get(p);
      const moves = q === undefined ? undefined : shape.deltas.find((d) => d.part === q);
      const carried = FOLLOWERS.has(part.kind) && onSkin ? carryMovement(target, p, onSkin, carrier) : null;
      const scaled = moves && atOwnSize(part, p, moves, sizes(q!, p));
      // a follower keeps how it turned and bent there, and goes where the skin goes here
      if (carried && scaled && own)
        return [follows(carried, scaled, carryMovement(source, q!, own, sourceCarrier), sizes(q!, p))];
      return carried ? [carried] : scaled && !FOLLOWERS.has(part.kind) ? [scaled] : [];
    });
    const right = [...(onSkin ? [onSkin] : []), ...others]
      .filter((d) => d.vertices.length)
      .map((d) => unturnFaces(target.parts[d.part]!, d).delta);
    return { name: shape.name, label: shape.label, deltas: right.sort((a, b) => a.part - b.part) };
  };
}

function bodyOf(character: Character): number {
  const body = character.parts.findIndex((p) => p.kind === "body");
  if (body < 0)
    throw new UserError(`${character.name} has no body.`, "transfer", "Set the kind of the skin's part at Intake.");
  return body;
}

/** Carries a movement of the source's skin to the target's, lids and lips that meet there meeting here. */
function makeSkinTransfer(
  source: Part,
  target: Part,
  match: Correspondence,
  surface: TransferSurface,
): (delta: ShapeDelta) => Float64Array {
  const { triangles } = triangulate(source);
  const normalsOf = placeNormals(source);
  const targetNormals = placeNormals(target);
  return (delta) => {
    const { moved } = movedBy(source, delta);
    const all = deformationGradients(triangles, source.positions, moved);
    const guess = match.guess(fullMovement(delta, source.positions.length / 3));
    const touching = contactsOf(triangles, moved, normalsOf(moved), delta.vertices);
    const { triangleOf, vertexOf } = match;
    if (!triangleOf || !vertexOf) return surfaceFromGradients(surface, all, tiesAt(touching, surface.rest), guess);
    const gradients = new Float64Array(3 * surface.triangles.length);
    triangleOf.forEach((s, t) => gradients.set(s < 0 ? IDENTITY : all.subarray(9 * s, 9 * s + 9), 9 * t));
    const first = surfaceFromGradients(surface, gradients, [], guess);
    const here = Float32Array.from(first, (x, i) => x + target.positions[i]!);
    return surfaceFromGradients(
      surface,
      gradients,
      tiesAt(contactsLike(touching, vertexOf, surface.triangles, here, targetNormals(here)), surface.rest),
      first,
    );
  };
}
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];

const centreOf = (part: Part): number[] =>
  [0, 1, 2].map((c) => {
    let sum = 0;
    for (let i = c; i < part.positions.length; i += 3) sum += part.positions[i]!;
    return sum / (part.positions.length / 3);
  });

/**
 * The source's part for each of the target's: by name, else the nearest of its kind when both figures stand in one box.
 */
function partPairs(source: Character, target: Character): Map<number, number> {
  const whole = fitBoxes(source.parts[bodyOf(source)]!.positions, target.parts[bodyOf(target)]!.positions);
  const out = new Map<number, number>();
  target.parts.forEach((part, p) => {
    const named = source.parts.findIndex((q) => q.name === part.name && q.kind === part.kind);
    if (named >= 0) return void out.set(p, named);
    const here = centreOf(part);
    const near = source.parts
      .flatMap((q, i) => {
        if (q.kind !== part.kind || q.kind === "other") return [];
        const at = centreOf(q);
        const there = applyLinear(whole.linear, at[0]!, at[1]!, at[2]!).map((x, c) => x + whole.shift[c]!);
        return [{ i, off: Math.hypot(...there.map((x, c) => x - here[c]!)) }];
      })
      .sort((a, b) => a.off - b.off)[0];
    if (near) out.set(p, near.i);
  });
  return out;
}

/** How movement near a part changes its size from one figure to the other, and where the part itself comes to lie. */
interface Size {
  readonly linear: Float64Array;
  /** The source's part laid on the target's; null where the two have one net. */
  readonly laid: { readonly part: Part; readonly positions: Float32Array } | null;
}
/** Skin within this of a part's middle says how large the figure is there, metres. */
const NEAR = 0.09;

function makeSizes(
  source: Character,
  from: number,
  target: Character,
  match: Correspondence,
): (q: number, p: number) => Size {
  const known = new Map<string, Size>();
  const S = source.parts[from]!.positions;
  const onto = match.laid;
  return (q, p) => {
    const key = `${q} ${p}`;
    if (known.has(key)) return known.get(key)!;
    const [a, b] = [source.parts[q]!, target.parts[p]!];
    const at = centreOf(a);
    const near = Array.from({ length: S.length / 3 }, (_, v) => v).filter(
      (v) => Math.hypot(S[3 * v]! - at[0]!, S[3 * v + 1]! - at[1]!, S[3 * v + 2]! - at[2]!) < NEAR,
    );
    const pick = (P: ArrayLike<number>): number[] => near.flatMap((v) => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!]);
    const same = a.positions.length === b.positions.length && a.corners.length === b.corners.length;
    const { linear } = near.length > 12 ? fitAffine(pick(S), pick(onto)) : fitBoxes(a.positions, b.positions);
    const boxes = fitBoxes(a.positions, b.positions);
    const laid = same
      ? null
      : {
          part: a,
          positions: Float32Array.from(a.positions, (x, i) => boxes.linear[4 * (i % 3)]! * x + boxes.shift[i % 3]!),
        };
    known.set(key, { linear, laid });
    return known.get(key)!;
  };
}

/** Movements carried through a linear map, 3 x n. */
function sized(deltas: Float32Array, linear: Float64Array): Float32Array {
  const out = new Float32Array(deltas.length);
  for (let i = 0; i < out.length; i += 3) out.set(applyLinear(linear, deltas[i]!, deltas[i + 1]!, deltas[i + 2]!), i);
  return out;
}

/**
 * A part's movement at the size of its counterpart: vertex by vertex where the two are one net, else by the nearest
 * surface once one is laid on the other.
 */
function atOwnSize(target: Part, index: number, moves: ShapeDelta, { linear, laid }: Size): ShapeDelta {
  const scaled = sized(moves.deltas, linear);
  if (!laid) return { part: index, vertices: moves.vertices, deltas: scaled };
  const { triangles } = triangulate(laid.part);
  const full = fullMovement({ vertices: moves.vertices, deltas: scaled }, laid.positions.length / 3);
  const { vertices, deltas } = carryPoints(
    target.positions,
    laid.positions,
    full,
    { triangles, bvh: buildBvh(triangles, laid.positions) },
    Infinity,
    false,
  );
  return { part: index, vertices, deltas };
}

/** The follower's own movement, corrected by how the skin under it moves otherwise here than there. */
function follows(carried: ShapeDelta, scaled: ShapeDelta, there: ShapeDelta | null, size: Size): ShapeDelta {
  if (size.laid) return carried;
  const skinThere = there
    ? [{ part: carried.part, vertices: there.vertices, deltas: sized(there.deltas, size.linear) }]
    : [];
  return mixShapes([
    [{ deltas: [scaled] }, 1],
    [{ deltas: [carried] }, 1],
    [{ deltas: skinThere }, -1],
  ])[0]!;
}

/** How far an eyeball may come through a lid, mm, and rounds in which lids are pushed off it. */
const LID_DEPTH_MM = 0.1;
const ROUNDS = 4;

/** Pushes the lids off the eyeballs in the shapes where they would come through. */
async function keepLidsOff(
  target: Character,
  shapes: readonly Shape[],
  body: number,
  steps: number,
  tick: Tick,
): Promise<Shape[]> {
  let on: Character = { ...target, shapes, drivers: [], shapeDrivers: [], poseDrivers: [], sampleSets: [] };
  let pushed = new Set(shapes.map((s) => s.name));
  for (let round = 0; round < ROUNDS; round++) {
    await tick(steps - 1, steps);
    pushed = new Set(
      on.shapes
        .filter((shape) => pushed.has(shape.name) && eyesThroughLids(on, shape, LID_DEPTH_MM).length > 0)
        .map((shape) => shape.name),
    );
    if (pushed.size === 0) break;
    for (const name of pushed) on = pushLidsOut(on, name, target.parts[body]!.name);
  }
  return [...on.shapes];
}
