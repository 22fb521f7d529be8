import { glbOf } from "../helpers/glb";
import { randomFrom } from "../helpers/random";

type Random = () => number;
const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

const NASTY: readonly unknown[] = [
  null,
  true,
  "",
  "constructor",
  "__proto__",
  "\u0000",
  "\ud800",
  "NaN",
  -1,
  0,
  0.5,
  1,
  2,
  3,
  255,
  256,
  65535,
  65536,
  2_000_000_000,
  4_294_967_295,
  4_294_967_296,
  Number.MAX_SAFE_INTEGER,
  1e308,
  -1e308,
  1e-320,
  [],
  {},
  [[]],
  [null],
  [1, 2, 3],
  { a: { a: { a: {} } } },
  "x".repeat(3000),
];
const NASTY_WORDS = [
  "nan",
  "NaN",
  "inf",
  "-inf",
  "1e400",
  "-0",
  "1e38",
  "3.5e38",
  "-1",
  "0",
  "99999999999999999999",
  "4294967296",
  "",
  "\u0000",
  "\ud7ff",
  "%",
  "a/b/c",
  "//",
  "1//",
  "/1/",
  "-1/-1/-1",
  "}",
  "{",
  "End Site",
  "CHANNELS",
  "JOINT",
];

interface Place {
  readonly holder: Record<string, unknown>;
  readonly key: string;
}
/** Places of a JSON value, of many alike only a few. */
function places(value: unknown, out: Place[] = []): Place[] {
  if (typeof value !== "object" || value === null) return out;
  for (const key of Object.keys(value)) {
    out.push({ holder: value as Record<string, unknown>, key });
    places((value as Record<string, unknown>)[key], out);
  }
  return out;
}

/** Changes a few values of a JSON document for others that do not belong there. */
export function mutateJson(random: Random, json: unknown): unknown {
  const copy = JSON.parse(JSON.stringify(json)) as unknown;
  for (let n = 1 + Math.floor(3 * random()); n > 0; n--) {
    const all = places(copy);
    if (!all.length) return pick(random, NASTY);
    const { holder, key } = pick(random, all);
    const kind = random();
    if (kind < 0.15) delete holder[key];
    else if (kind < 0.3 && Array.isArray(holder)) holder.push(holder[Number(key)]);
    else if (kind < 0.4) holder[key] = JSON.parse(JSON.stringify(pick(random, all.slice(0, 200)).holder));
    else if (kind < 0.5 && typeof holder[key] === "number")
      holder[key] = (holder[key] as number) + pick(random, [-2, -1, 1, 2, 1000]);
    else holder[key] = structuredClone(pick(random, NASTY));
  }
  return copy;
}

function mutateBytes(random: Random, bytes: Uint8Array): Uint8Array {
  const out = bytes.slice();
  const kind = random();
  if (kind < 0.15) return out.slice(0, Math.floor(random() * out.length));
  if (kind < 0.25) {
    const at = Math.floor(random() * out.length);
    return Uint8Array.from([...out.subarray(0, at), ...out.subarray(Math.max(0, at - Math.floor(64 * random())))]);
  }
  for (let n = 1 + Math.floor(8 * random() ** 2); n > 0; n--)
    out[Math.floor(random() * out.length)] = pick(random, [0, 1, 127, 128, 255, Math.floor(256 * random())]);
  return out;
}

function mutateFloats(random: Random, bytes: Uint8Array): Uint8Array {
  const out = bytes.slice();
  const view = new DataView(out.buffer);
  for (let n = 1 + Math.floor(4 * random()); n > 0 && out.length >= 4; n--) {
    const at = 4 * Math.floor((random() * out.length) / 4);
    if (at + 4 > out.length) continue;
    if (random() < 0.5)
      view.setFloat32(at, pick(random, [NaN, Infinity, -Infinity, 0, -0, 1e38, -1e38, 1e-40, 1e10]), true);
    else view.setUint32(at, pick(random, [0, 1, 0xffffffff, 0x7fffffff, 65535, 65536]), true);
  }
  return out;
}

function mutateText(random: Random, bytes: Uint8Array): Uint8Array {
  const lines = new TextDecoder("latin1").decode(bytes).split("\n");
  for (let n = 1 + Math.floor(4 * random()); n > 0; n--) {
    const i = Math.floor(random() * lines.length);
    const kind = random();
    if (kind < 0.15) lines.splice(i, 1);
    else if (kind < 0.3) lines.splice(i, 0, lines[i] ?? "");
    else if (kind < 0.4) [lines[i], lines[0]] = [lines[0] ?? "", lines[i] ?? ""];
    else {
      const words = (lines[i] ?? "").split(/\s+/);
      words[Math.floor(random() * words.length)] = pick(random, NASTY_WORDS);
      lines[i] = words.join(" ");
    }
  }
  return new TextEncoder().encode(lines.join("\n"));
}

/** JSON and binary chunk of a GLB. */
function glbParts(bytes: Uint8Array): { json: object; binary: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(12, true);
  return {
    json: JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as object,
    binary: bytes.slice(28 + length),
  };
}
/** Head and arrays of the program's own storage form. */
function containerParts(bytes: Uint8Array): { json: unknown; rest: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(4, true);
  return {
    json: JSON.parse(new TextDecoder().decode(bytes.subarray(8, 8 + length))),
    rest: bytes.slice((8 + length + 7) & ~7),
  };
}
function containerOf(json: unknown, rest: Uint8Array): Uint8Array {
  const head = new TextEncoder().encode(JSON.stringify(json));
  const start = (8 + head.length + 7) & ~7;
  const out = new Uint8Array(start + rest.length);
  new DataView(out.buffer).setUint32(0, 0x314f5859, true);
  new DataView(out.buffer).setUint32(4, head.length, true);
  out.set(head, 8);
  out.set(rest, start);
  return out;
}

/** A file that is a little wrong in a way that depends on the number alone. */
export function mutant(seed: number, name: string, bytes: Uint8Array): Uint8Array {
  const random = randomFrom(seed);
  for (let i = 0; i < 3; i++) random();
  const kind = random();
  if (kind < 0.12) return mutateBytes(random, bytes);
  if (/\.(glb|vrm)$/.test(name)) {
    const { json, binary } = glbParts(bytes);
    if (kind < 0.3) return glbOf(json, mutateFloats(random, binary));
    return glbOf(mutateJson(random, json) as object, kind < 0.4 ? mutateFloats(random, binary) : binary);
  }
  if (/\.json$/.test(name))
    return new TextEncoder().encode(JSON.stringify(mutateJson(random, JSON.parse(new TextDecoder().decode(bytes)))));
  if (/\.(obj|mtl|bvh|ply)$/.test(name) && !(name === "head.ply" && kind < 0.6)) return mutateText(random, bytes);
  if (!/\./.test(name)) {
    const { json, rest } = containerParts(bytes);
    return kind < 0.35 ? containerOf(json, mutateFloats(random, rest)) : containerOf(mutateJson(random, json), rest);
  }
  return mutateBytes(random, bytes);
}
