import type { Character } from "../model/character";
import { BUDGET } from "../model/budget";
import { jsonDepth } from "../model/jsonDepth";
import { UserError } from "../model/userError";

/**
 * The program's own storage form of a character or of sculpted deltas: JSON with every typed array replaced by a
 * reference, then the arrays, 8-byte aligned. Layout: "YXO1", JSON length (uint32 LE), JSON (UTF-8), padding, arrays.
 */
type ArrayKind = "f32" | "f64" | "u32" | "i32" | "u16" | "u8";
interface ArrayRef {
  readonly $: ArrayKind;
  readonly at: number;
  readonly n: number;
}
const MAGIC = 0x314f5859;
const align = (n: number): number => (n + 7) & ~7;
const KINDS: Readonly<Record<string, ArrayKind>> = {
  Float32Array: "f32",
  Float64Array: "f64",
  Uint32Array: "u32",
  Int32Array: "i32",
  Uint16Array: "u16",
  Uint8Array: "u8",
};
/** By its tag rather than by instanceof: arrays that came from a worker may be of another realm. */
const kindOf = (a: unknown): ArrayKind | null =>
  ArrayBuffer.isView(a) ? (KINDS[Object.prototype.toString.call(a).slice(8, -1)] ?? null) : null;

export function encodeContainer(value: unknown): Uint8Array<ArrayBuffer> {
  const arrays: ArrayBufferView[] = [];
  const seen = new Map<unknown, ArrayRef>();
  let at = 0;
  const json = JSON.stringify(value, (_key, v: unknown) => {
    const kind = kindOf(v);
    if (!kind) return v;
    const known = seen.get(v);
    if (known) return known;
    const a = v as Float32Array;
    const ref: ArrayRef = { $: kind, at, n: a.length };
    arrays.push(a);
    seen.set(v, ref);
    at += align(a.byteLength);
    return ref;
  });
  const head = new TextEncoder().encode(json);
  const start = align(8 + head.length);
  const out = new Uint8Array(start + at);
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, head.length, true);
  out.set(head, 8);
  let offset = start;
  for (const a of arrays) {
    out.set(new Uint8Array(a.buffer, a.byteOffset, a.byteLength), offset);
    offset += align(a.byteLength);
  }
  return out;
}

const ARRAYS = {
  f32: Float32Array,
  f64: Float64Array,
  u32: Uint32Array,
  i32: Int32Array,
  u16: Uint16Array,
  u8: Uint8Array,
} as const;
const natural = (x: unknown): x is number => typeof x === "number" && Number.isSafeInteger(x) && x >= 0;

/**
 * Reads what encodeContainer wrote.
 * @param take "copy" makes the arrays views of a copy, so that the input may be reused; "own" makes them views of the
 * input where it is aligned, which the caller then leaves alone.
 * @throws UserError when it is not one, or an array lies outside of it.
 */
export function decodeContainer(bytes: Uint8Array, take: "copy" | "own" = "copy"): unknown {
  const unreadable = (): UserError =>
    new UserError("The stored geometry is not readable.", "", "Take the delivery in again.");
  const held =
    take === "own" && bytes.byteOffset % 8 === 0 && bytes.buffer instanceof ArrayBuffer
      ? (bytes as Uint8Array<ArrayBuffer>)
      : bytes.slice();
  const view = new DataView(held.buffer, held.byteOffset, held.length);
  if (held.length < 8 || view.getUint32(0, true) !== MAGIC) throw unreadable();
  const length = view.getUint32(4, true);
  if (8 + length > held.length) throw unreadable();
  const start = align(8 + length);
  const json = new TextDecoder("utf-8").decode(held.subarray(8, 8 + length));
  const revive = (_key: string, v: unknown): unknown => {
    if (typeof v !== "object" || v === null || !Object.hasOwn(v, "$")) return v;
    const { $, at, n } = v as ArrayRef;
    const Kind = Object.hasOwn(ARRAYS, $) ? ARRAYS[$] : null;
    if (
      !Kind ||
      !natural(at) ||
      !natural(n) ||
      at % Kind.BYTES_PER_ELEMENT ||
      start + at + n * Kind.BYTES_PER_ELEMENT > held.length
    )
      throw unreadable();
    return new Kind(held.buffer, held.byteOffset + start + at, n);
  };
  if (jsonDepth(json) > BUDGET.jsonDepth) throw unreadable();
  try {
    return JSON.parse(json, revive) as unknown;
  } catch {
    throw unreadable();
  }
}

export const encodeCharacter = (character: Character): Uint8Array<ArrayBuffer> => encodeContainer(character);
export const decodeCharacter = (bytes: Uint8Array, take: "copy" | "own" = "copy"): Character => ({
  shapeDrivers: [],
  ...(decodeContainer(bytes, take) as Omit<Character, "shapeDrivers"> & Partial<Character>),
});
