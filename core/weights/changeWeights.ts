import { z } from "zod";
import { restTree } from "../surface/restTree";
import { placeNormals } from "../deform/placeNormals";
import { closestPoint } from "../math/bvh";
import { triangulate, vertexCountOf, type Character, type Part } from "../model/character";
import { mirrorMap, NO_MIRROR } from "../model/mirrorMap";
import { neighboursOf } from "../model/neighbours";
import { UserError } from "../model/userError";
import { barycentric } from "../surface/carryMovement";
import { humanoidMap } from "../skeleton/humanoidMap";
import { mirrorJoints, NO_COUNTERPART } from "../skeleton/mirrorJoints";
import { BIND_WAYS, bindAfresh } from "./bindAfresh";
import { denseWeights, packWeights, renormalize } from "./denseWeights";

export const WEIGHT_TOOLS = ["smooth", "mirror", "take from skin", "bind afresh", "limit"] as const;

/** One change of a part's weights. Joints named in `locked` keep their weights while the others make up the sum. */
export const weightChangeSchema = z.object({
  tool: z.enum(WEIGHT_TOOLS),
  /** smooth: rounds. */
  rounds: z.number().int().min(1).max(100).default(4),
  /** mirror: the side that is right. */
  from: z.enum(["left", "right"]).default("left"),
  /** take from skin: farther away than this the skin is not asked, mm. */
  reachMm: z.number().positive().max(500).default(40),
  /** take from skin: the skin's normal may differ from the part's by this, degrees. */
  normalDegrees: z.number().positive().max(180).default(75),
  /** take from skin: another bound part to copy from; the body when empty. */
  source: z.string().max(200).default(""),
  /** bind afresh: how nearness to a bone is judged; evened out by `rounds`. */
  way: z.enum(BIND_WAYS).default("surface"),
  /** limit: joints a vertex. */
  most: z.number().int().min(1).max(8).default(4),
  locked: z.array(z.string()).default([]),
});
export type WeightChange = z.infer<typeof weightChangeSchema>;

/**
 * The character with the weights of one part changed; at most as many joints a vertex as before, or four. @throws
 * UserError when the part, the skeleton or what the tool needs is not there.
 */
export function changeWeights(character: Character, partName: string, change: WeightChange): Character {
  const index = character.parts.findIndex((p) => p.name === partName);
  const part = character.parts[index];
  const { skeleton } = character;
  if (!part) throw new UserError(`There is no part named ${partName}.`, "weights", "");
  if (!skeleton) throw new UserError("The character has no skeleton.", "weights", "");
  if (!part.skin && change.tool !== "take from skin" && change.tool !== "bind afresh")
    throw new UserError(
      `${partName} is not bound to joints.`,
      "weights",
      "Take its weights from the skin or bind it afresh first.",
    );
  const jointCount = skeleton.joints.length;
  const locked = new Uint8Array(jointCount);
  for (const name of change.locked) {
    const j = skeleton.joints.findIndex((x) => x.name === name);
    if (j < 0) throw new UserError(`There is no joint named ${name}.`, "weights", "");
    locked[j] = 1;
  }
  const before = denseWeights(part, jointCount);
  const dense = {
    smooth: () => smooth(part, before, jointCount, locked, change.rounds),
    mirror: () => mirrored(character, part, before, jointCount, change.from),
    "take from skin": () => fromSkin(character, index, jointCount, change),
    "bind afresh": () => bindAfresh(character, part, change.way, change.rounds),
    limit: () => before,
  }[change.tool]();
  if (change.tool !== "limit") keepLocked(dense, before, jointCount, locked, part.skin !== null);
  const most = change.tool === "limit" ? change.most : Math.max(4, part.skin?.influenceCount ?? 0);
  return {
    ...character,
    parts: character.parts.map((p, i) =>
      i === index ? { ...part, skin: packWeights(dense, jointCount, most, part.skin?.inverseBinds ?? null) } : p,
    ),
  };
}

function keepLocked(
  dense: Float32Array,
  before: Float32Array,
  jointCount: number,
  locked: Uint8Array,
  bound: boolean,
): void {
  for (let v = 0; v < dense.length / jointCount; v++) {
    if (bound)
      for (let j = 0; j < jointCount; j++) if (locked[j]) dense[v * jointCount + j] = before[v * jointCount + j]!;
    renormalize(dense, jointCount, v, locked);
  }
}

/** Half-way to the mean of the neighbours, round by round (uniform Laplacian smoothing of the weights). */
function smooth(part: Part, dense: Float32Array, jointCount: number, locked: Uint8Array, rounds: number): Float32Array {
  const { start, list } = neighboursOf(part);
  let now = dense;
  for (let round = 0; round < rounds; round++) {
    const next = now.slice();
    for (let v = 0; v + 1 < start.length; v++) {
      const [from, to] = [start[v]!, start[v + 1]!];
      if (from === to) continue;
      for (let j = 0; j < jointCount; j++) {
        if (locked[j]) continue;
        let sum = 0;
        for (let k = from; k < to; k++) sum += now[list[k]! * jointCount + j]!;
        next[v * jointCount + j] = (now[v * jointCount + j]! + sum / (to - from)) / 2;
      }
    }
    now = next;
  }
  return now === dense ? dense.slice() : now;
}

/**
 * The other side's vertices take the weights of their mirror images on the joints of the other side; the midline gets
 * the mean of both.
 */
function mirrored(
  character: Character,
  part: Part,
  dense: Float32Array,
  jointCount: number,
  from: "left" | "right",
): Float32Array {
  const counterpart = mirrorJoints(character.skeleton!, humanoidMap(character.skeleton!, character.jointMap));
  const map = mirrorMap(part.positions);
  const out = dense.slice();
  const sign = from === "left" ? 1 : -1;
  for (let v = 0; v < vertexCountOf(part); v++) {
    const m = map[v]!;
    const x = sign * part.positions[3 * v]!;
    if (m === NO_MIRROR || (x > 0 && m !== v)) continue;
    for (let j = 0; j < jointCount; j++) {
      const other = counterpart[j]!;
      if (other === NO_COUNTERPART) {
        if (dense[m * jointCount + j]! > 0)
          throw new UserError(
            `The other side of ${character.skeleton!.joints[j]!.name} is not known.`,
            "weights",
            "Map it first.",
          );
        continue;
      }
      const w = dense[m * jointCount + other]!;
      out[v * jointCount + j] = m === v ? (dense[v * jointCount + j]! + w) / 2 : w;
    }
  }
  return out;
}

/**
 * Weights of the closest place on the skin, mixed from the corners of its triangle, where the skin lies within reach
 * and looks the same way; the rest is filled smoothly from what was found next to it (harmonic, by repeated averaging),
 * and whole pieces without any from the nearest skin at any distance.
 */
function fromSkin(
  character: Character,
  index: number,
  jointCount: number,
  { reachMm, normalDegrees, source }: WeightChange,
): Float32Array {
  const bodyIndex = character.parts.findIndex((p) => (source ? p.name === source : p.kind === "body") && p.skin);
  const body = character.parts[bodyIndex];
  const part = character.parts[index]!;
  if (!body)
    throw new UserError(
      source
        ? `No bound part named ${source} is there to take weights from.`
        : "No bound body is there to take weights from.",
      "weights",
      "",
    );
  if (bodyIndex === index)
    throw new UserError(`${part.name} would take its weights from itself.`, "weights", "Choose another part.");
  const table = denseWeights(body, jointCount);
  const { triangles } = triangulate(body);
  const bvh = restTree(triangles, body.positions);
  const [skinNormals, normals] = [body, part].map((p) => placeNormals(p)(p.positions)) as [Float32Array, Float32Array];
  const least = Math.cos((normalDegrees * Math.PI) / 180);
  const count = vertexCountOf(part);
  const out = new Float32Array(count * jointCount);
  const found = new Uint8Array(count);
  const take = (v: number, reach: number, anyWay: boolean): boolean => {
    const n = [normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!];
    const looksAlike = (t: number): boolean => {
      let along = 0;
      for (let k = 0; k < 3; k++)
        for (let c = 0; c < 3; c++) along += (skinNormals[3 * triangles[3 * t + k]! + c]! * n[c]!) / 3;
      return along >= least;
    };
    const c = closestPoint(
      bvh,
      body.positions,
      part.positions[3 * v]!,
      part.positions[3 * v + 1]!,
      part.positions[3 * v + 2]!,
      reach,
      anyWay ? undefined : looksAlike,
    );
    if (c.triangle < 0) return false;
    const corners = [0, 1, 2].map((k) => triangles[3 * c.triangle + k]!) as [number, number, number];
    barycentric(body.positions, corners, c).forEach((share, i) => {
      for (let j = 0; j < jointCount; j++) out[v * jointCount + j]! += share * table[corners[i]! * jointCount + j]!;
    });
    return true;
  };
  for (let v = 0; v < count; v++) if (take(v, reachMm / 1000, false)) found[v] = 1;
  fillHoles(part, out, found, jointCount);
  for (let v = 0; v < count; v++) if (!found[v]) take(v, Infinity, true);
  return out;
}

const FILL_ROUNDS = 200;

function fillHoles(part: Part, dense: Float32Array, found: Uint8Array, jointCount: number): void {
  const { start, list } = neighboursOf(part);
  const holes = Array.from(found.keys()).filter((v) => !found[v]);
  for (let round = 0; round < FILL_ROUNDS && holes.length; round++) {
    let open = 0;
    for (const v of holes) {
      const around = Array.from(list.subarray(start[v]!, start[v + 1]!)).filter((w) => found[w]);
      if (!around.length) {
        open++;
        continue;
      }
      for (let j = 0; j < jointCount; j++)
        dense[v * jointCount + j] = around.reduce((sum, w) => sum + dense[w * jointCount + j]!, 0) / around.length;
      found[v] = 1;
    }
    if (open === 0 && round > 20) return;
  }
}
