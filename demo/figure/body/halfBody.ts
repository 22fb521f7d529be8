import { sub, type Vec3 } from "../../../core/math/vec3";
import { addScaled, alongSurface, gradientDirection, projectTo } from "../../modelling/fields";
import { neighbourSets, orientOutward, QuadMesh } from "../../modelling/quadMesh";
import { mirrored } from "../placement";
import { buildArm } from "./armMesh";
import type { BodyTag } from "./bodyTags";
import { buildHand } from "./handMesh";
import { buildLeg } from "./legMesh";
import { buildTorso, COLUMNS, LAST_ROW } from "./torsoMesh";

/** The left half of the body below the neck, open along the middle. Metres. */
export interface HalfBody {
  readonly mesh: QuadMesh<BodyTag>;
  /** Trunk rows by column, -1 inside the armhole. */
  readonly torso: readonly (readonly number[])[];
  /** Rings where arm and leg begin. */
  readonly armhole: readonly number[];
  readonly legBase: readonly number[];
}

export function buildHalfBody(): HalfBody {
  const whole = new QuadMesh<BodyTag>();
  const torso = buildTorso(whole);
  const wrist = buildArm(whole, torso.armhole);
  buildHand(whole, wrist);
  const legBase = buildLeg(whole, torso.grid[0]!);
  const { mesh, newFromOld } = withoutUnused(whole);
  orientOutward(mesh.points, mesh.quads);
  evenOut(mesh);
  const renumbered = (ring: readonly number[]): number[] => ring.map((v) => (v < 0 ? v : newFromOld[v]!));
  return { mesh, torso: torso.grid.map(renumbered), armhole: renumbered(torso.armhole), legBase: renumbered(legBase) };
}

/** True for vertices that lie on the body's plane of symmetry. */
export const isMiddle = (tag: BodyTag): boolean =>
  tag.region === "torso" && ((tag.column === 0 && (tag.row >= 0 || tag.crotch === true)) || tag.column === COLUMNS);

function withoutUnused(mesh: QuadMesh<BodyTag>): { mesh: QuadMesh<BodyTag>; newFromOld: number[] } {
  const used = new Set(mesh.quads.flat());
  const kept = new QuadMesh<BodyTag>();
  const newFromOld = mesh.points.map((p, v) => (used.has(v) ? kept.add(p, mesh.tags[v]!) : -1));
  for (const [a, b, c, d] of mesh.quads)
    kept.quads.push([newFromOld[a]!, newFromOld[b]!, newFromOld[c]!, newFromOld[d]!]);
  return { mesh: kept, newFromOld };
}

/** Moves vertices along the form toward the mean of their neighbours, region by region. */
function evenOut(mesh: QuadMesh<BodyTag>): void {
  const neighbours = neighbourSets(mesh.quads, mesh.points.length).map((set) => [...set]);
  const rounds: readonly (readonly [count: number, strength: number, takesPart: (tag: BodyTag) => boolean])[] = [
    [60, 0.5, (t) => t.region === "torso" || t.region === "arm" || t.region === "leg"],
    [14, 0.4, (t) => t.region === "foot" || t.region === "finger" || (t.region === "leg" && t.ring > 24)],
    [25, 0.4, (t) => t.region === "palm" || t.region === "thumb"],
  ];
  for (const [count, strength, takesPart] of rounds) {
    const moving = mesh.tags.flatMap((tag, v) =>
      tag.pin < 1 && tag.form && takesPart(tag) && !(tag.region === "torso" && tag.row === LAST_ROW) ? [v] : [],
    );
    for (let i = 0; i < count; i++) {
      const moved = moving.map((v) => evened(mesh, neighbours[v]!, v, strength));
      moving.forEach((v, k) => (mesh.points[v] = moved[k]!));
    }
  }
}

function evened({ points, tags }: QuadMesh<BodyTag>, neighbours: readonly number[], v: number, strength: number): Vec3 {
  const tag = tags[v]!;
  const form = tag.form!;
  const middle = isMiddle(tag);
  const around: Vec3[] = [];
  for (const n of neighbours) {
    around.push(points[n]!);
    // on the middle line the other half's neighbour counts too
    if (middle && !isMiddle(tags[n]!)) around.push(mirrored(points[n]!));
  }
  const sum = around.reduce<[number, number, number]>((s, p) => [s[0] + p[0], s[1] + p[1], s[2] + p[2]], [0, 0, 0]);
  const mean: Vec3 = [middle ? 0 : sum[0] / around.length, sum[1] / around.length, sum[2] / around.length];
  const toMean = alongSurface(sub(mean, points[v]!), gradientDirection(form, points[v]!));
  const p = projectTo(form, addScaled(points[v]!, toMean, strength * (1 - tag.pin)), { maxStep: 0.006, rounds: 2 });
  if (middle) return [0, p[1], p[2]];
  const atCrotch =
    tag.region === "torso" && (tag.crotch || (tag.row === 0 && (tag.column === 1 || tag.column === COLUMNS - 1)));
  return atCrotch ? [Math.max(p[0], 0.012), p[1], p[2]] : p;
}
