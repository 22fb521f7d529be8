import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DynamicDrawUsage,
  Group,
  LineBasicMaterial,
  LineSegments,
  Points,
  PointsMaterial,
} from "three";
import { LiveDeform } from "~core/deform/liveDeform";
import type { Deformed } from "~core/deform/rig";
import type { Moment } from "~core/evaluate/moment";
import { deformSketch } from "~core/correctives/sketch";
import { evaluate } from "~core/evaluate/evaluate";
import { translationOf } from "~core/math/mat4";
import { add, dot, length, normalize, scale, sub, type Vec3 } from "~core/math/vec3";
import { vertexCountOf, type Skeleton } from "~core/model/character";
import { seatMatrix } from "~core/edits/repairs/seatPart";
import { momentOf, type Loaded } from "../session/session";
import { momentBeside } from "../session/slices/beside";
import { FinerPart } from "./finerPart";
import { HEAT_SCALES, heatColor, isHeat } from "./heat";
import { disposePartScene, loadTextures, makePartScene, setLook, showDeformed, type PartScene } from "./partScene";
import type { Drawn } from "./whatIsDrawn";

const MAX_OVERLAPS = 4000;
const LEAST_OVERLAP_MM = 1;
/** Longest flag that shows a joint's roll, metres. */
const MOST_FLAG = 0.035;

/** What is drawn in the place of "before". */
interface Before {
  readonly of: Loaded;
  readonly scene: PartScene;
  readonly live: LiveDeform;
  readonly textured: Promise<boolean>;
}

/** What the stage draws of one character: the present, the before, joints, and a shown place. */
export class StageModel {
  readonly root = new Group();
  readonly now: PartScene;
  readonly nowDeformed: Deformed;
  private readonly live: LiveDeform;
  /** Settled when the textures are decoded; true when there are any to show. */
  readonly textured: Promise<boolean>;
  private before: Before | null = null;
  private finer: FinerPart | null = null;
  /** Colours of a reading, and what they were made from. */
  private heats: { readonly from: readonly unknown[]; readonly colors: (Float32Array | null)[] } | null = null;
  private readonly needles: LineSegments;
  private readonly rolls: LineSegments;
  private readonly rings: Points;
  private readonly chosen: Points;
  private readonly spots: Points;
  /** Vertices that lie in other skin, seen through what covers them. */
  private readonly overlaps: Points;

  constructor(readonly loaded: Loaded) {
    this.live = new LiveDeform(loaded.rig);
    this.nowDeformed = this.live.deformed;
    this.now = makePartScene(loaded.rig, this.nowDeformed);
    this.textured = loadTextures(this.now, loaded.character);
    const points = (count: number, size: number, color: string): Points => {
      const g = new BufferGeometry();
      g.setAttribute(
        "position",
        new BufferAttribute(new Float32Array(3 * Math.max(1, count)), 3).setUsage(DynamicDrawUsage),
      );
      const p = new Points(
        g,
        new PointsMaterial({
          color: new Color(color),
          size,
          sizeAttenuation: false,
          depthTest: false,
          transparent: true,
        }),
      );
      p.renderOrder = 3;
      p.frustumCulled = false;
      return p;
    };
    const count = loaded.character.skeleton?.joints.length ?? 0;
    const lines = new BufferGeometry();
    lines.setAttribute(
      "position",
      new BufferAttribute(new Float32Array(6 * Math.max(1, count)), 3).setUsage(DynamicDrawUsage),
    );
    this.needles = new LineSegments(
      lines,
      new LineBasicMaterial({ color: "#1C2733", depthTest: false, transparent: true, opacity: 0.75 }),
    );
    this.needles.renderOrder = 2;
    this.needles.frustumCulled = false;
    const flags = new BufferGeometry();
    flags.setAttribute(
      "position",
      new BufferAttribute(new Float32Array(6 * Math.max(1, count)), 3).setUsage(DynamicDrawUsage),
    );
    this.rolls = new LineSegments(
      flags,
      new LineBasicMaterial({ color: "#1F6E64", depthTest: false, transparent: true, opacity: 0.85 }),
    );
    this.rolls.renderOrder = 2;
    this.rolls.frustumCulled = false;
    this.rings = points(count, 5, "#1C2733");
    this.chosen = points(1, 11, "#1F6E64");
    this.spots = points(200, 6, "#A8321F");
    this.overlaps = points(MAX_OVERLAPS, 4, "#ffffff");
    this.overlaps.geometry.setAttribute(
      "color",
      new BufferAttribute(new Float32Array(3 * MAX_OVERLAPS), 3).setUsage(DynamicDrawUsage),
    );
    (this.overlaps.material as PointsMaterial).vertexColors = true;
    this.root.add(this.now.root, this.needles, this.rolls, this.rings, this.chosen, this.spots, this.overlaps);
  }

  /**
   * The scene of what stands beside, or of the character without correctives and without the sketch; made when first
   * asked for, and anew when another stands there.
   */
  private beforeOf(of: Loaded): Before {
    const { parts, materials } = of.character;
    if (this.before && this.before.of.character.parts === parts && this.before.of.character.materials === materials)
      return this.before;
    this.dropBefore();
    const live = new LiveDeform(of.rig);
    const own = parts === this.loaded.character.parts && materials === this.loaded.character.materials;
    const scene = makePartScene(of.rig, live.deformed, own ? { sharing: this.now } : {});
    this.root.add(scene.root);
    this.before = { of, scene, live, textured: own ? this.textured : loadTextures(scene, of.character) };
    return this.before;
  }

  private dropBefore(): void {
    if (!this.before) return;
    this.root.remove(this.before.scene.root);
    disposePartScene(this.before.scene);
    this.before = null;
  }

  /** What is drawn as before, where it is drawn: its corners, and when its textures are there. */
  beside(): { readonly deformed: Deformed; readonly textured: Promise<boolean> } | null {
    return this.before && { deformed: this.before.live.deformed, textured: this.before.textured };
  }

  /** Brings everything up to date with the session. */
  update(s: Drawn): void {
    const { parts, materials } = this.loaded.character;
    if (s.loaded?.character.parts !== parts || s.loaded.character.materials !== materials) return;
    const { rig } = s.loaded;
    const moment = momentOf(s);
    const shown = (p: number): boolean => {
      const { kind, name } = rig.character.parts[p]!;
      return kind !== "garment" || this.dressed(s) || s.place?.part === name;
    };
    if (s.sculpt) {
      deformSketch(s.sculpt.sketch, moment, this.nowDeformed);
      this.live.forget();
      showDeformed(this.now);
    } else showDeformed(this.now, this.live.update(rig, moment, shown));
    this.look(this.now, this.loaded.character, s);
    this.drawFiner(s);
    this.drawSeat(s);
    if (s.compare !== "now" || s.beforeHeld) this.showBefore(s);
    this.drawJoints(s, moment);
    this.drawPlace(s);
    this.drawOverlaps(s);
  }

  /** Shows the part that is sculpted subdivided, in place of itself. */
  private drawFiner({ sculpt, brush }: Drawn): void {
    const part = sculpt && brush.finer ? sculpt.sketch.part : -1;
    if (this.finer && this.finer.part !== part) {
      this.root.remove(this.finer.mesh);
      this.finer.dispose();
      this.finer = null;
    }
    if (part < 0) return;
    if (!this.finer) {
      this.finer = new FinerPart(this.loaded.character.parts[part]!, part);
      this.root.add(this.finer.mesh);
    }
    const { mesh } = this.now.parts[part]!;
    this.finer.update(this.nowDeformed.positions[part]!, mesh.geometry.getAttribute("color").array);
    mesh.visible = false;
  }

  private showBefore(s: Drawn): void {
    const of = s.beside?.loaded ?? s.loaded!;
    const { scene, live } = this.beforeOf(of);
    const shown = (p: number): boolean => of.character.parts[p]!.kind !== "garment" || this.dressed(s);
    const moment = s.beside ? momentBeside(s) : { ...momentOf(s), drivers: false };
    showDeformed(scene, live.update(of.rig, moment, shown));
    this.look(scene, of.character, s);
  }

  /** What is measured of the character's own parts is shown on those only; another's are shown as clay beside it. */
  private look(scene: PartScene, of: Loaded["character"], s: Drawn): void {
    const own = of.parts === this.loaded.character.parts;
    setLook(scene, of, {
      clay: s.reading === "clay",
      wires: s.wires,
      dressed: this.dressed(s),
      heat: showsHeat(s) ? (own ? this.keptHeat(s) : of.parts.map(() => null)) : null,
    });
  }

  private dressed(s: Drawn): boolean {
    return s.dressed && !showsHeat(s);
  }

  /** The colours of the reading, made anew only when what they show is another. */
  private keptHeat(s: Drawn): (Float32Array | null)[] {
    const { mask, paint: painted } = s;
    const from = [
      s.loaded?.character,
      s.reading,
      s.moved,
      s.joint,
      s.measured,
      mask?.of,
      mask?.version,
      mask?.painting,
      painted?.of,
      painted?.version,
    ];
    if (!this.heats || from.some((x, i) => x !== this.heats!.from[i])) this.heats = { from, colors: this.heat(s) };
    return this.heats.colors;
  }

  private heat(s: Drawn): (Float32Array | null)[] {
    const { character } = s.loaded!;
    const { moved, mask } = s;
    if (mask?.painting) return character.parts.map((_, p) => (p === mask.of.part ? paint(mask.of.values, 0, 1) : null));
    if (moved) {
      return character.parts.map((part) => {
        if (part.name !== moved.part) return null;
        const values = new Float32Array(vertexCountOf(part));
        moved.vertices.forEach((v, k) => v < values.length && (values[v] = moved.mm[k]!));
        return paint(values, 0, mostMoved(moved.mm));
      });
    }
    if (s.reading === "weights") {
      const joint = character.skeleton?.joints.findIndex((j) => j.name === s.joint) ?? -1;
      const painted = s.paint?.of;
      return character.parts.map((part, p) => {
        if (!part.skin || joint < 0) return null;
        const values = new Float32Array(vertexCountOf(part));
        if (painted?.part === p)
          return paint(
            values.map((_, v) => painted.dense[v * painted.jointCount + joint]!),
            HEAT_SCALES.weights.from,
            HEAT_SCALES.weights.to,
          );
        const { influenceCount, joints, weights } = part.skin;
        for (let v = 0, n = 0; v < values.length; v++)
          for (let k = 0; k < influenceCount; k++, n++) if (joints[n] === joint) values[v]! += weights[n]!;
        return paint(values, HEAT_SCALES.weights.from, HEAT_SCALES.weights.to);
      });
    }
    const scale = HEAT_SCALES[s.reading as "stretch" | "overlap"];
    const fields = s.measured?.fields;
    return character.parts.map((_, p) =>
      fields?.part === p ? paint(s.reading === "stretch" ? fields.stretch : fields.depth, scale.from, scale.to) : null,
    );
  }

  private drawJoints(s: Drawn, moment: Moment): void {
    const { skeleton } = this.loaded.character;
    const show = s.joints && skeleton !== null;
    this.needles.visible = this.rings.visible = this.rolls.visible = show;
    const chosen = skeleton?.joints.findIndex((j) => j.name === s.joint) ?? -1;
    this.chosen.visible = show && chosen >= 0;
    if (!show || !skeleton) return;
    const { world } = evaluate(s.loaded!.character, moment);
    if (!world) return;
    const lines = this.needles.geometry.getAttribute("position") as BufferAttribute;
    const rings = this.rings.geometry.getAttribute("position") as BufferAttribute;
    skeleton.joints.forEach((joint, j) => {
      const p = translationOf(world, 16 * j);
      const q = joint.parent >= 0 ? translationOf(world, 16 * joint.parent) : p;
      lines.setXYZ(2 * j, ...q);
      lines.setXYZ(2 * j + 1, ...p);
      rings.setXYZ(j, ...p);
      if (j === chosen) (this.chosen.geometry.getAttribute("position") as BufferAttribute).setXYZ(0, ...p);
    });
    this.drawRolls(skeleton, world);
    for (const o of [this.needles, this.rings, this.chosen]) o.geometry.getAttribute("position").needsUpdate = true;
  }

  /**
   * A short flag on each bone, square to it along its joint's x axis: where neighbours' flags stand apart, the frames
   * are rolled.
   */
  private drawRolls({ joints }: Skeleton, world: Float64Array): void {
    const at = this.rolls.geometry.getAttribute("position") as BufferAttribute;
    let n = 0;
    joints.forEach((_, j) => {
      const child = joints.findIndex((c) => c.parent === j);
      if (child < 0) return;
      const [p, q] = [translationOf(world, 16 * j), translationOf(world, 16 * child)];
      const bone = sub(q, p);
      const size = length(bone);
      if (size < 1e-4) return;
      const along = scale(bone, 1 / size);
      const x: Vec3 = [world[16 * j]!, world[16 * j + 1]!, world[16 * j + 2]!];
      const square = sub(x, scale(along, dot(x, along)));
      if (length(square) < 1e-3) return;
      const foot = add(p, scale(bone, 0.4));
      at.setXYZ(n++, ...foot);
      at.setXYZ(n++, ...add(foot, scale(normalize(square), Math.min(MOST_FLAG, 0.3 * size))));
    });
    this.rolls.geometry.setDrawRange(0, n);
    at.needsUpdate = true;
  }

  /** Where every joint stands on the stage now. */
  jointPlaces(): { joint: string; at: Vec3 }[] {
    const at = this.rings.geometry.getAttribute("position") as BufferAttribute;
    return (this.loaded.character.skeleton?.joints ?? []).map((joint, j) => ({
      joint: joint.name,
      at: [at.getX(j), at.getY(j), at.getZ(j)],
    }));
  }

  /** Draws a part where it is about to be seated. */
  private drawSeat({ seat }: Drawn): void {
    this.now.parts.forEach(({ mesh, wires }, p) => {
      const part = this.loaded.character.parts[p]!;
      const m = mesh.matrix.identity();
      if (seat?.part === part.name) m.fromArray(seatMatrix(part.positions, seat));
      wires.matrix.copy(m);
      for (const o of [mesh, wires]) o.matrixAutoUpdate = false;
    });
  }

  private drawPlace(s: Drawn): void {
    const p = s.place ? this.loaded.character.parts.findIndex((x) => x.name === s.place!.part) : -1;
    this.spots.visible = p >= 0;
    if (p < 0) return;
    const P = this.nowDeformed.positions[p]!;
    const at = this.spots.geometry.getAttribute("position") as BufferAttribute;
    const vertices = s.place!.vertices.filter((v) => 3 * v < P.length).slice(0, 200);
    vertices.forEach((v, i) => at.setXYZ(i, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!));
    this.spots.geometry.setDrawRange(0, vertices.length);
    at.needsUpdate = true;
  }

  private drawOverlaps(s: Drawn): void {
    const fields = s.reading === "overlap" ? s.measured?.fields : undefined;
    this.overlaps.visible = fields !== undefined;
    if (!fields) return;
    const P = this.nowDeformed.positions[fields.part]!;
    const at = this.overlaps.geometry.getAttribute("position") as BufferAttribute;
    const color = this.overlaps.geometry.getAttribute("color") as BufferAttribute;
    const { from, to } = HEAT_SCALES.overlap;
    let n = 0;
    for (let v = 0; v < fields.depth.length && n < MAX_OVERLAPS; v++) {
      if (fields.depth[v]! < LEAST_OVERLAP_MM) continue;
      at.setXYZ(n, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!);
      color.setXYZ(n++, ...heatColor(0.35 + (0.65 * (fields.depth[v]! - from)) / (to - from)));
    }
    this.overlaps.geometry.setDrawRange(0, n);
    at.needsUpdate = color.needsUpdate = true;
  }

  /** Shows the present, the before, or for a wipe each in its turn. */
  showOnly(which: "now" | "before"): void {
    this.now.root.visible = which === "now";
    if (this.finer) this.finer.mesh.visible = which === "now";
    if (this.before) this.before.scene.root.visible = which === "before";
  }

  dispose(): void {
    disposePartScene(this.now);
    this.finer?.dispose();
    this.dropBefore();
    for (const o of [this.needles, this.rolls, this.rings, this.chosen, this.spots, this.overlaps])
      o.geometry.dispose();
  }
}

/** Whether a measured or painted field is shown in place of the look. */
const showsHeat = (s: Drawn): boolean => s.moved !== null || isHeat(s.reading) || s.mask?.painting === true;

/** End of the scale for what moved, mm. */
export const mostMoved = (mm: readonly number[]): number => Math.max(0.1, ...mm.slice(0, 1));

function paint(values: Float32Array, from: number, to: number): Float32Array {
  const out = new Float32Array(3 * values.length);
  for (let v = 0; v < values.length; v++) out.set(heatColor((values[v]! - from) / (to - from)), 3 * v);
  return out;
}
