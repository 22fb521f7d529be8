import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DynamicDrawUsage,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  type Material,
  type MeshStandardMaterial,
  type Texture,
} from "three";
import type { Deformed, Rig } from "~core/deform/rig";
import { vertexCountOf, type Character, type Part } from "~core/model/character";
import { withCopies } from "~core/model/drawnPart";
import { neighboursOf } from "~core/model/neighbours";
import { cornerRuns, FRINGE_AFTER, hasFringe, isCovered, orderOf } from "./lookRules";
import { drawnMaterial, fringeMaterial, loadMaps, NO_MAPS, setMaps, type MaterialMaps } from "./materialLook";

/** What is drawn of one part. */
export interface PartView {
  readonly mesh: Mesh<BufferGeometry, MeshStandardMaterial[]>;
  /** The same faces again for the soft edges of blended textures; null where no material has any. */
  readonly fringe: Mesh<BufferGeometry, MeshStandardMaterial[]> | null;
  readonly wires: LineSegments;
  /** Linear RGB of the part's own vertices, for each drawn one; laid over the colours of its materials. */
  readonly ownColors: Float32Array;
  /** The vertex behind each copy that is drawn beside it. */
  readonly copies: Uint32Array;
  /** Textures of each face group, once they were decoded. */
  readonly maps: MaterialMaps[];
  /** What the colours that are drawn were written from. */
  colored: Float32Array | "clay" | null;
}

/** A drawable copy of a character: one mesh a part, positions written by the deformer. */
export interface PartScene {
  readonly root: Group;
  readonly parts: readonly PartView[];
}

const CLAY = new Color("#b9aea0");
/**
 * @param deformed what it draws: positions and normals are read from these arrays themselves.
 * @param sharing another scene of the same character, whose textures are shown here too.
 */
export function makePartScene(rig: Rig, deformed: Deformed, { sharing }: { sharing?: PartScene } = {}): PartScene {
  const root = new Group();
  const parts = rig.character.parts.map((part, p): PartView => {
    const geometry = new BufferGeometry();
    const { copies, triangles, uvs } = rig.drawn[p]!;
    geometry.setAttribute("position", new BufferAttribute(deformed.drawn[p]!, 3).setUsage(DynamicDrawUsage));
    geometry.setAttribute("normal", new BufferAttribute(deformed.normals[p]!, 3).setUsage(DynamicDrawUsage));
    const ownColors = drawnRows(ownLook(part), copies);
    geometry.setAttribute("color", new BufferAttribute(ownColors.slice(), 3).setUsage(DynamicDrawUsage));
    if (uvs) geometry.setAttribute("uv", new BufferAttribute(uvs, 2));
    geometry.setIndex(new BufferAttribute(triangles, 1));
    cornerRuns(part).forEach((g, i) => geometry.addGroup(g.start, g.count, i));
    const mesh = new Mesh(
      geometry,
      part.groups.map((g) => drawnMaterial(rig.character.materials[g.material]!)),
    );
    mesh.name = part.name;
    mesh.frustumCulled = false;
    mesh.renderOrder = orderOf(part);
    const wires = new LineSegments(
      new BufferGeometry(),
      new LineBasicMaterial({ color: "#1C2733", transparent: true, opacity: 0.5 }),
    );
    wires.visible = false;
    wires.frustumCulled = false;
    root.add(mesh, wires);
    const fringe = fringeOf(mesh, part, rig.character);
    return {
      mesh,
      fringe,
      wires,
      ownColors,
      copies,
      maps: sharing?.parts[p]!.maps ?? part.groups.map(() => NO_MAPS),
      colored: ownColors,
    };
  });
  return { root, parts };
}

/** Hung on the mesh itself, so that it is seen and hidden with it. */
function fringeOf(mesh: PartView["mesh"], part: Part, { materials }: Character): PartView["fringe"] {
  const of = part.groups.map((g) => materials[g.material]!);
  if (!mesh.geometry.hasAttribute("uv") || !of.some(hasFringe)) return null;
  const fringe = new Mesh(mesh.geometry, of.map(fringeMaterial));
  fringe.renderOrder = mesh.renderOrder + FRINGE_AFTER;
  fringe.frustumCulled = false;
  mesh.add(fringe);
  return fringe;
}

/** 3 numbers a vertex, those of the copies behind them. */
function drawnRows(rows: Float32Array, copies: Uint32Array): Float32Array {
  const out = new Float32Array(rows.length + 3 * copies.length);
  withCopies(rows, copies, 3, out);
  return out;
}

/**
 * Decodes the textures of a character; they are shown from the next look that is set. @returns whether there are any.
 */
export async function loadTextures(scene: PartScene, character: Character): Promise<boolean> {
  let any = false;
  await Promise.all(
    scene.parts.flatMap(({ mesh, maps }, p) => {
      const part = character.parts[p]!;
      return part.groups.map(async (g, i) => {
        if (!mesh.geometry.hasAttribute("uv")) return;
        maps[i] = await loadMaps(character.materials[g.material]!);
        any ||= Object.values(maps[i]).some((map) => map !== null);
      });
    }),
  );
  return any;
}

function ownLook(part: Part): Float32Array {
  const out = new Float32Array(3 * vertexCountOf(part)).fill(1);
  const { colors } = part;
  if (colors) for (let v = 0; v < out.length / 3; v++) out.set(colors.subarray(4 * v, 4 * v + 3), 3 * v);
  return out;
}

/** Polygon edges of a part as lines over the mesh's own positions; made when wires are first shown. */
function wireGeometry(part: Part, positions: BufferAttribute): BufferGeometry {
  const { start, list } = neighboursOf(part);
  const pairs = new Uint32Array(list.length);
  let n = 0;
  for (let v = 0; v + 1 < start.length; v++)
    for (let k = start[v]!; k < start[v + 1]!; k++)
      if (list[k]! > v) {
        pairs[n++] = v;
        pairs[n++] = list[k]!;
      }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", positions);
  geometry.setIndex(new BufferAttribute(pairs.slice(0, n), 1));
  return geometry;
}

/** Says that the arrays of some parts hold something else than what was drawn. */
export function showDeformed(scene: PartScene, parts: Iterable<number> = scene.parts.keys()): void {
  for (const p of parts) {
    const { geometry } = scene.parts[p]!.mesh;
    geometry.getAttribute("position").needsUpdate = true;
    geometry.getAttribute("normal").needsUpdate = true;
  }
}

export interface LookOptions {
  readonly clay: boolean;
  readonly wires: boolean;
  readonly dressed: boolean;
  /**
   * Per part: colours of a measured field, or null for clay. An array that was shown before is not looked into again.
   */
  readonly heat: readonly (Float32Array | null)[] | null;
}

/** Sets colours, wires and what is hidden. Faces named as covered are left out while garments are on. */
export function setLook(scene: PartScene, character: Character, look: LookOptions): void {
  scene.parts.forEach((view, p) => {
    const part = character.parts[p]!;
    const off = part.kind === "garment" && !look.dressed;
    view.mesh.visible = !off;
    if (look.wires && !view.wires.geometry.index)
      view.wires.geometry = wireGeometry(part, view.mesh.geometry.getAttribute("position") as BufferAttribute);
    view.wires.visible = look.wires && !off;
    view.mesh.material.forEach((m, i) => {
      setMaps(m, character.materials[part.groups[i]!.material]!, view.maps[i]!, !look.clay && !look.heat);
      m.visible = !isCovered(m.name, character, look.dressed);
    });
    const natural = !look.clay && !look.heat;
    view.fringe?.material.forEach((m, i) => {
      const of = character.materials[part.groups[i]!.material]!;
      m.visible = natural && hasFringe(of) && view.maps[i]!.base !== null;
      if (m.visible) setMaps(m, of, view.maps[i]!, true);
    });
    if (!off) color(view, look.heat?.[p] ?? (look.clay || look.heat ? "clay" : view.ownColors));
  });
}

/** Writes colours, where they are not those that stand there already. */
function color(view: PartView, from: Float32Array | "clay"): void {
  if (view.colored === from) return;
  view.colored = from;
  const attribute = view.mesh.geometry.getAttribute("color") as BufferAttribute;
  const target = attribute.array as Float32Array;
  if (from === "clay") {
    for (let i = 0; i < target.length; i += 3) {
      target[i] = CLAY.r;
      target[i + 1] = CLAY.g;
      target[i + 2] = CLAY.b;
    }
  } else if (from === view.ownColors) target.set(from);
  else withCopies(from, view.copies, 3, target);
  attribute.needsUpdate = true;
}

export function disposePartScene(scene: PartScene): void {
  for (const { mesh, fringe, wires, maps } of scene.parts) {
    // the decoded pictures stay for the next scene of the same character
    for (const all of maps) for (const map of Object.values(all)) (map as Texture | null)?.dispose();
    mesh.geometry.dispose();
    wires.geometry.dispose();
    (wires.material as Material).dispose();
    mesh.material.forEach((m) => m.dispose());
    fringe?.material.forEach((m) => m.dispose());
  }
}
