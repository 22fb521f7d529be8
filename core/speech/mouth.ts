import { makeRig } from "../deform/rig";
import { evaluate, evaluationRoom } from "../evaluate/evaluate";
import { REST_MOMENT } from "../evaluate/moment";
import { lipOpening, lipToTeeth, lowerFront, makeOpeningGauge, teethGap } from "../measure/openings";
import type { Character, Shape } from "../model/character";
import { coverage } from "../shapes/coverage/coverage";

export type Weights = Readonly<Record<string, number>>;

/** What each viseme is made of on a character, by its number. */
export interface VisemeFace {
  readonly viseme: number;
  readonly sounds: string;
  readonly weights: Weights;
  readonly from: "shape" | "mix" | "start" | "missing";
}

const faces = new WeakMap<Character, readonly VisemeFace[]>();
/** Shapes first, then a mix of the character's, then what its action units can make; made once. */
export function visemeFaces(character: Character): readonly VisemeFace[] {
  const found = faces.get(character) ?? makeVisemeFaces(character);
  faces.set(character, found);
  return found;
}
const makeVisemeFaces = (character: Character): VisemeFace[] =>
  coverage(character)
    .filter((item) => item.system === "visemes")
    .map((item, i): VisemeFace => {
      const shares = item.mix?.shares ?? item.start?.shares;
      const weights = item.shapes.length
        ? Object.fromEntries(item.shapes.map((s) => [s, 1]))
        : Object.fromEntries((shares ?? []).map((s) => [s.shape, s.weight]));
      const mixed = item.mix ? "mix" : item.start ? "start" : "missing";
      const from = item.shapes.length ? "shape" : mixed;
      return { viseme: i + 1, sounds: item.says, weights, from };
    });

/** Reads a mouth at any weights of shapes, the head at rest. Metres. */
export interface MouthReader {
  /** Height of the opening between the lips. */
  readonly gap: (weights: Weights) => number;
  /** From the lower lip to the upper teeth; null where there are none. */
  readonly toTeeth: (weights: Weights) => number | null;
  /** Between the rows of teeth at the front; null without two rows. */
  readonly teeth: (weights: Weights) => number | null;
  /** Middles of upper and lower lip and an incisor of the jaw: how far each stands from its rest place, 9 numbers. */
  readonly marks: (weights: Weights) => Float64Array;
  /** Shapes that move the lips: they give way where a sound needs them. */
  readonly lipShapes: ReadonlySet<string>;
}

/** How a shape moves the part of a figure that a mouth is read from. */
interface MouthShape {
  readonly part: number;
  readonly vertices: Uint32Array;
  readonly deltas: Float32Array;
}

const readers = new WeakMap<Character, { readonly reader: MouthReader | null }>();
/** The reader of a character, made once. Null for a figure without lips. */
export function mouthReaderOf(character: Character): MouthReader | null {
  const found = readers.get(character) ?? { reader: makeMouthReader(character) };
  readers.set(character, found);
  return found.reader;
}

/** Null for a figure without lips. */
export function makeMouthReader(character: Character): MouthReader | null {
  const gauge = makeOpeningGauge(makeRig(character));
  if (!gauge?.lips || !gauge.mouth) return null;
  const { body, upperTeeth, lowerTeeth } = gauge;
  const asked = new Map([[body, new Set([...gauge.mouth.triangles, ...gauge.upperLip, ...gauge.lowerLip])]]);
  if (upperTeeth) asked.set(upperTeeth.part, new Set(upperTeeth.bvh.triangles));
  const front = lowerTeeth === null ? new Uint32Array(0) : lowerFront(character.parts[lowerTeeth]!.positions);
  if (lowerTeeth !== null) asked.set(lowerTeeth, new Set(front));
  // only what is read is moved: the skin round the mouth and the teeth
  const moves = character.shapes.map((shape) => movesOf(shape, asked));
  const evaluation = evaluationRoom(character);
  // combinations act as on the stage; nothing is bent, so that no corrective does
  const all = (weights: Weights): Float32Array => evaluate(character, { ...REST_MOMENT, weights }, evaluation).weights;
  const place = mouthRoom(character, moves, [...asked.keys()], all);
  const lips = new Set([...gauge.upperLip, ...gauge.lowerLip]);
  const lipShapes = new Set(
    moves.flatMap((parts, s) =>
      parts.some((m) => m.part === body && movesAny(m, lips)) ? [character.shapes[s]!.name] : [],
    ),
  );
  const P = character.parts[body]!.positions;
  const markAt: (readonly [part: number, vertex: number])[] = [
    [body, middleOf(P, gauge.upperLip)],
    [body, middleOf(P, gauge.lowerLip)],
    ...(lowerTeeth === null || front.length === 0
      ? []
      : [[lowerTeeth, middleOf(character.parts[lowerTeeth]!.positions, front)] as const]),
  ];
  const marksOf = moves.map((parts) => markDeltas(parts, markAt));
  return {
    gap: (weights) => lipOpening(gauge, place(weights, body)),
    toTeeth: (weights) => (upperTeeth ? lipToTeeth(gauge, place(weights, body, upperTeeth.part)) : null),
    teeth: (weights) =>
      upperTeeth && lowerTeeth !== null ? teethGap(gauge, place(weights, upperTeeth.part, lowerTeeth), front) : null,
    marks: (weights) => {
      const out = new Float64Array(9);
      const strengths = all(weights);
      for (let s = 0; s < strengths.length; s++) {
        const w = strengths[s]!;
        if (w !== 0) for (let c = 0; c < 9; c++) out[c]! += w * marksOf[s]![c]!;
      }
      return out;
    },
    lipShapes,
  };
}

/** What a shape moves of the vertices that are asked, by part. */
const movesOf = (shape: Shape, asked: ReadonlyMap<number, ReadonlySet<number>>): MouthShape[] =>
  shape.deltas.flatMap((d): MouthShape[] => {
    const kept = Array.from(d.vertices.keys()).filter((k) => asked.get(d.part)?.has(d.vertices[k]!));
    if (kept.length === 0) return [];
    const deltas = Float32Array.from(
      { length: 3 * kept.length },
      (_, i) => d.deltas[3 * kept[(i / 3) | 0]! + (i % 3)]!,
    );
    return [{ part: d.part, vertices: Uint32Array.from(kept, (k) => d.vertices[k]!), deltas }];
  });

/** Puts the asked parts where weights bring them; the same arrays each time. */
function mouthRoom(
  character: Character,
  moves: readonly (readonly MouthShape[])[],
  asked: readonly number[],
  strengthsOf: (weights: Weights) => Float32Array,
): (weights: Weights, ...parts: readonly number[]) => Float32Array[] {
  const room = character.parts.map((p, i) => (asked.includes(i) ? p.positions.slice() : p.positions));
  const still = new Map<number, { readonly at: Uint32Array; readonly rest: Float32Array }>();
  for (const part of asked) {
    const vertices = new Set(moves.flat().flatMap((m) => (m.part === part ? [...m.vertices] : [])));
    const at = Uint32Array.from([...vertices].sort((a, b) => a - b).flatMap((v) => [3 * v, 3 * v + 1, 3 * v + 2]));
    still.set(part, { at, rest: Float32Array.from(at, (i) => character.parts[part]!.positions[i]!) });
  }
  return (weights, ...parts) => {
    for (const part of parts) {
      const { at, rest } = still.get(part)!;
      const P = room[part]!;
      for (let i = 0; i < at.length; i++) P[at[i]!] = rest[i]!;
    }
    const strengths = strengthsOf(weights);
    for (let s = 0; s < moves.length; s++) {
      const w = strengths[s]!;
      if (w === 0) continue;
      for (const move of moves[s]!) if (parts.includes(move.part)) addMove(room[move.part]!, move, w);
    }
    return room;
  };
}

function addMove(P: Float32Array, { vertices, deltas }: MouthShape, w: number): void {
  for (let k = 0; k < vertices.length; k++) {
    const to = 3 * vertices[k]!;
    P[to]! += w * deltas[3 * k]!;
    P[to + 1]! += w * deltas[3 * k + 1]!;
    P[to + 2]! += w * deltas[3 * k + 2]!;
  }
}

/** Lips that a shape moves by less than this are left alone by it, metres. */
const MOVES = 2e-4;
const movesAny = ({ vertices, deltas }: MouthShape, lips: ReadonlySet<number>): boolean =>
  vertices.some((v, k) => lips.has(v) && Math.hypot(deltas[3 * k]!, deltas[3 * k + 1]!, deltas[3 * k + 2]!) > MOVES);

/** The vertex nearest the middle of the face, the foremost of those that are as near. */
const middleOf = (P: Float32Array, among: Uint32Array): number =>
  among.reduce((best, v) =>
    Math.abs(P[3 * v]!) - P[3 * v + 2]! < Math.abs(P[3 * best]!) - P[3 * best + 2]! ? v : best,
  );

function markDeltas(parts: readonly MouthShape[], marks: readonly (readonly [number, number])[]): Float64Array {
  const out = new Float64Array(9);
  marks.forEach(([part, vertex], m) => {
    for (const { part: of, vertices, deltas } of parts) {
      const k = of === part ? vertices.indexOf(vertex) : -1;
      if (k >= 0) for (let c = 0; c < 3; c++) out[3 * m + c] = deltas[3 * k + c]!;
    }
  });
  return out;
}
