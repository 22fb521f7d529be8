import { evenFaceStarts, NO_JOINT, type Character, type FaceGroup, type Joint, type Material, type Part, type PartKind, type Shape, type SkinBinding } from "../core/model/character";
import { composeTRS, invertAffine } from "../core/math/mat4";
import { conjugate, fromAxes, multiplyQuat, rotate } from "../core/math/quat";
import { cross, dot, normalize, scale, sub, type Quat, type Vec3 } from "../core/math/vec3";
import { neighboursOf } from "../core/model/neighbours";
import { EXPRESSIONS, mixShapes, VISEMES } from "./mixes";
import { unfoldShape } from "./modelling/unfoldShape";
import { SHAPE_LIST } from "./shapeList";
import type { FaceShape, Figure, Point } from "./figure/types";

/** Oda, the ferry pilot: adult woman, 1.68 m. Builds everything from the figure's form; the same code gives the same bytes. */
export async function buildOda(): Promise<Character> {
  const figure = (await import("./figure/assembleFigure.js")) as unknown as Figure;
  const { buildFaceShape } = (await import("./figure/faceShapes.js")) as unknown as { buildFaceShape: (id: string) => FaceShape };
  const joints = buildJoints(figure);
  const parts = [bodyPart(figure), ...separateParts(figure), garmentPart(figure.shirt, "top", MATERIAL.top), garmentPart(figure.trousers, "trousers", MATERIAL.trousers)];
  const partIndex = new Map(parts.map((p, i) => [p.name, i]));
  const neighbours = parts.map(neighboursOf);
  const units = SHAPE_LIST.map(({ unit, name, label }): Shape => {
    const built = buildFaceShape(unit);
    const deltas = Object.entries(built.parts).flatMap(([part, moved]) => {
      const p = partIndex.get(PART_NAMES[part] ?? part);
      if (p === undefined) return [];
      const vertices: number[] = [];
      const values: number[] = [];
      moved.forEach((d, v) => {
        if (Math.hypot(...d) > 2e-6) {
          vertices.push(v);
          values.push(...d);
        }
      });
      return vertices.length ? [unfoldShape(parts[p]!, { part: p, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(values) }, neighbours[p])] : [];
    });
    return { name, label, deltas };
  });
  const mixed = [...VISEMES, ...EXPRESSIONS].map((mix) => mixShapes(mix, units));
  const shapes = [...units, ...mixed.map((s) => ({ ...s, deltas: s.deltas.map((d) => unfoldShape(parts[d.part]!, d, neighbours[d.part])) }))];
  return { name: "Oda", parts, materials: MATERIALS, skeleton: { joints: joints.list, inverseBinds: joints.inverseBinds, inSkin: new Uint8Array(joints.list.length).fill(1) }, shapes, drivers: [], clips: [], jointMap: {}, notes: [] };
}

const MATERIAL = { skin: 0, covered: 1, eye: 2, lash: 3, brow: 4, teeth: 5, tongue: 6, hair: 7, tear: 8, top: 9, trousers: 10 } as const;
const material = (name: string, roughness: number, more: Partial<Material> = {}): Material => ({ name, baseColor: [1, 1, 1, 1], roughness, metallic: 0, opacity: "opaque", alphaCutoff: 0.5, doubleSided: false, texture: null, ...more });
const MATERIALS: readonly Material[] = [
  material("skin", 0.62), material("covered skin", 0.62), material("eye", 0.15),
  material("lash", 0.9, { opacity: "blend", doubleSided: true }), material("brow", 0.85, { doubleSided: true }),
  material("teeth", 0.25), material("tongue", 0.38), material("hair", 0.68), material("tear line", 0.08, { opacity: "blend", baseColor: [1, 1, 1, 0.4], doubleSided: true }),
  material("top cloth", 0.9, { baseColor: [0.11, 0.185, 0.3, 1], doubleSided: true }), material("trouser cloth", 0.9, { baseColor: [0.07, 0.075, 0.095, 1], doubleSided: true }),
];

/** Generator's part name -> name in the character. */
const PART_NAMES: Record<string, string> = {
  skin: "body", eyeL: "eye left", eyeR: "eye right", caruncleL: "tear duct left", caruncleR: "tear duct right", browL: "brow left", browR: "brow right",
  lashL: "lashes left", lashR: "lashes right", tearL: "tear line left", tearR: "tear line right", teethUpper: "teeth upper", teethLower: "teeth lower", tongue: "tongue", hair: "hair",
};
const PART_LOOK: Record<string, readonly [PartKind, number]> = {
  eye: ["eye", MATERIAL.eye], caruncle: ["eye", MATERIAL.tongue], brow: ["brow", MATERIAL.brow], lash: ["lash", MATERIAL.lash], tear: ["tear line", MATERIAL.tear],
  teeth: ["teeth", MATERIAL.teeth], tongue: ["tongue", MATERIAL.tongue], hair: ["hair", MATERIAL.hair],
};

const flat = (points: readonly Point[]): Float32Array => Float32Array.from(points.flat());
const rgba = (colours: readonly Point[]): Float32Array => Float32Array.from(colours.flatMap((c) => [...c, 1]));

function binding(weights: readonly [number, number][][]): SkinBinding {
  const joints = new Uint16Array(4 * weights.length);
  const out = new Float32Array(4 * weights.length);
  weights.forEach((list, v) => {
    const total = list.reduce((n, [, w]) => n + w, 0);
    list.slice(0, 4).forEach(([j, w], k) => {
      joints[4 * v + k] = j;
      out[4 * v + k] = w / total;
    });
  });
  return { influenceCount: 4, joints, weights: out, inverseBinds: null };
}

function quadPart(name: string, kind: PartKind, P: readonly Point[], Q: readonly number[][], groups: readonly FaceGroup[], colours: readonly Point[] | null, weights: readonly [number, number][][]): Part {
  return { name, kind, positions: flat(P), corners: Uint32Array.from(Q.flat()), faceStarts: evenFaceStarts(Q.length, 4), groups, uvs: null, colors: colours && rgba(colours), skin: binding(weights) };
}

/** The skin; faces wholly under the garments come last, in a group of their own, so that they can be left out of a dressed picture. */
function bodyPart(figure: Figure): Part {
  const hidden = (q: number[]): boolean => q.every((v) => figure.covered(figure.tag[v]!));
  const open = figure.Q.filter((q) => !hidden(q));
  const covered = figure.Q.filter(hidden);
  const groups = [{ material: MATERIAL.skin, faceStart: 0, faceCount: open.length }, { material: MATERIAL.covered, faceStart: open.length, faceCount: covered.length }];
  return quadPart("body", "body", figure.P, [...open, ...covered], groups, figure.colour, figure.w1);
}

function separateParts(figure: Figure): Part[] {
  return figure.parts.filter((p) => PART_NAMES[p.name]).map((p) => {
    const look = Object.entries(PART_LOOK).find(([word]) => p.name.startsWith(word))![1];
    return quadPart(PART_NAMES[p.name]!, look[0], p.P, p.Q, [{ material: look[1], faceStart: 0, faceCount: p.Q.length }], p.c, p.w);
  });
}

const garmentPart = (garment: Figure["shirt"], name: string, mat: number): Part =>
  quadPart(name, "garment", garment.P, garment.Q, [{ material: mat, faceStart: 0, faceCount: garment.Q.length }], null, garment.w);

const FINGER = { index: "Index", middle: "Middle", ring: "Ring", pinky: "Little", thumb: "Thumb" } as const;

/** Generator's joint name -> VRM 1.0 humanoid name, or a name of our own where the standard has none. */
export function jointName(name: string): string {
  const own: Record<string, string> = { eyeL: "leftEye", eyeR: "rightEye", tongue0: "tongue1", tongue1: "tongue2", tongue2: "tongue3" };
  if (own[name]) return own[name];
  const side = name.endsWith("L") ? "left" : name.endsWith("R") ? "right" : null;
  if (!side) return name;
  const bare = name.slice(0, -1);
  const finger = /^(index|middle|ring|pinky|thumb)(\d)$/.exec(bare);
  if (finger) {
    const names = finger[1] === "thumb" ? ["Metacarpal", "Proximal", "Distal"] : ["Proximal", "Intermediate", "Distal"];
    return `${side}${FINGER[finger[1] as keyof typeof FINGER]}${names[Number(finger[2])]}`;
  }
  const words: Record<string, string> = { forearm: "LowerArm", foreTwist: "LowerArmTwist" };
  return `${side}${words[bare] ?? bare[0]!.toUpperCase() + bare.slice(1)}`;
}

/** Joints with frames of their own: Y along the bone, X the hinge, so that a positive turn about X bends the natural way. */
function buildJoints(figure: Figure): { list: Joint[]; inverseBinds: Float32Array } {
  const names = figure.J.map((j) => jointName(j.name));
  const place = figure.J.map((j) => j.p as Vec3);
  const frames = figure.J.map((_, j): Quat => frameOf(j, names, place, figure));
  const inverseBinds = new Float32Array(16 * names.length);
  const world = new Float64Array(16);
  const list = figure.J.map((j, i): Joint => {
    const parent = j.par < 0 ? NO_JOINT : j.par;
    const inverse = parent === NO_JOINT ? ([0, 0, 0, 1] as Quat) : conjugate(frames[parent]!);
    const offset = parent === NO_JOINT ? place[i]! : rotate(inverse, sub(place[i]!, place[parent]!));
    composeTRS(world, 0, place[i]!, frames[i]!, [1, 1, 1]);
    const m = new Float64Array(16);
    invertAffine(m, 0, world, 0);
    inverseBinds.set(m, 16 * i);
    return { name: names[i]!, parent, translation: offset, rotation: multiplyQuat(inverse, frames[i]!), scale: [1, 1, 1] };
  });
  return { list, inverseBinds };
}

const IDENTITY: Quat = [0, 0, 0, 1];
const Z: Vec3 = [0, 0, 1];

function frameOf(j: number, names: readonly string[], place: readonly Vec3[], figure: Figure): Quat {
  const name = names[j]!;
  const side = name.startsWith("left") ? 1 : name.startsWith("right") ? -1 : 0;
  if (side === 0 || /Eye$/.test(name)) return IDENTITY;
  const child = figure.J.findIndex((k) => k.par === j && !/Thumb/.test(names[figure.J.indexOf(k)]!));
  const parent = figure.J[j]!.par;
  const along = child >= 0 ? normalize(sub(place[child]!, place[j]!)) : normalize(sub(place[j]!, place[parent]!));
  if (/Leg|Foot|Toes/.test(name)) return orient(along, [/Foot|Toes/.test(name) ? -1 : 1, 0, 0]);
  const hand = names.indexOf(`${side > 0 ? "left" : "right"}Hand`);
  const wrist = names.indexOf(`${side > 0 ? "left" : "right"}MiddleProximal`);
  const handDir = normalize(sub(place[wrist]!, place[hand]!));
  const palm = normalize(sub([0, -1, 0], scale(handDir, -handDir[1])));
  if (/Hand|Index|Middle|Ring|Little/.test(name)) return orient(along, cross(handDir, palm));
  if (/Thumb/.test(name)) return orient(along, cross(normalize([handDir[0], handDir[1], handDir[2] + 0.8]), palm));
  if (/Shoulder/.test(name)) return orient(along, cross(along, Z));
  const upper = names.indexOf(`${side > 0 ? "left" : "right"}UpperArm`);
  const elbow = names.indexOf(`${side > 0 ? "left" : "right"}LowerArm`);
  return orient(along, cross(normalize(sub(place[elbow]!, place[upper]!)), Z));
}

/** Frame with Y along a direction and X as near as can be to a hinge. */
function orient(along: Vec3, hingeHint: Vec3): Quat {
  const y = normalize(along);
  const x = normalize(sub(hingeHint, scale(y, dot(hingeHint, y))));
  return fromAxes(x, y, cross(x, y));
}
