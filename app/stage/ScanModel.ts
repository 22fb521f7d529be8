import {
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  Color,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshStandardMaterial,
  Points,
  PointsMaterial,
  Raycaster,
  Vector2,
  Vector3,
  type Camera,
} from "three";
import type { Vec3 } from "~core/math/vec3";
import { castRay } from "~core/math/bvh";
import { movedBy } from "~core/model/movedBy";
import { pinAt, scanTree, type ScanState } from "../session/scan";
import type { Loaded } from "../session/session";
import { heatColor, OFF_SCALE_MM } from "./heat";

const INK = "#1C2733";
const ACCENT = "#1F6E64";
const PALE = "#C9C2B4";

/** What the stage draws of a scan: its surface, the landmarks' pins and curves, and the skin as it was laid on it. */
export class ScanModel {
  readonly root = new Group();
  private readonly surface = new Mesh(
    new BufferGeometry(),
    new MeshStandardMaterial({
      color: new Color(PALE),
      roughness: 0.85,
      polygonOffset: true,
      polygonOffsetFactor: 3,
      polygonOffsetUnits: 60,
    }),
  );
  private readonly laid = new Group();
  private readonly curves = new LineSegments(
    new BufferGeometry(),
    new LineBasicMaterial({ color: new Color(INK), depthTest: false, transparent: true, opacity: 0.5 }),
  );
  private readonly proposed = pins(8, INK);
  private readonly byHand = pins(9, ACCENT);
  private readonly chosen = pins(13, "#A8321F");
  private drawn: { positions: Float32Array | null; laid: ScanState["laid"] } = { positions: null, laid: null };
  private readonly ray = new Raycaster();

  constructor() {
    this.curves.renderOrder = 3;
    this.root.add(this.surface, this.laid, this.curves, this.chosen, this.proposed, this.byHand);
  }

  update(scan: ScanState, loaded: Loaded): void {
    if (this.drawn.positions !== scan.positions) {
      const g = new BufferGeometry();
      g.setAttribute("position", new BufferAttribute(scan.positions, 3));
      g.setIndex(new BufferAttribute(scanTree(scan).triangles, 1));
      g.computeVertexNormals();
      this.surface.geometry.dispose();
      this.surface.geometry = g;
    }
    if (this.drawn.laid !== scan.laid) this.drawLaid(scan, loaded);
    this.drawn = { positions: scan.positions, laid: scan.laid };
    const onScan = scan.view === "scan" || scan.view === "both";
    this.surface.visible = onScan;
    const material = this.surface.material;
    material.transparent = scan.view === "both";
    material.opacity = scan.view === "both" ? 0.55 : 1;
    this.laid.visible = scan.view === "laid on";
    this.drawPins(scan, onScan);
  }

  private drawPins(scan: ScanState, onScan: boolean): void {
    const at = (id: string): Vec3 | null => (onScan ? pinAt(scan, id) : scan.landmarks.find((l) => l.id === id)!.place);
    const shown = scan.view === "laid on" ? [] : scan.landmarks;
    const [proposed, byHand, chosen, lines]: number[][] = [[], [], [], []];
    shown.forEach((l, i) => {
      const p = at(l.id);
      if (!p) return;
      (scan.places.get(l.id)?.byHand ? byHand! : proposed!).push(...p);
      if (scan.chosen === l.id) chosen!.push(...p);
      const next = shown[i + 1];
      const q =
        next?.curve === l.curve && !/ear|chin/.test(l.curve) && !/wing/.test(l.id + next.id) ? at(next.id) : null;
      if (q) lines!.push(...p, ...q);
    });
    for (const [object, list] of [
      [this.proposed, proposed],
      [this.byHand, byHand],
      [this.chosen, chosen],
      [this.curves, lines],
    ] as const) {
      object.geometry.setAttribute("position", new BufferAttribute(Float32Array.from(list!), 3));
      object.visible = list!.length > 0;
      // pins on the scan's far side stay behind it; the figure's own skin would hide half of each
      object.material.depthTest = scan.view === "scan";
    }
  }

  /** The laid skin, coloured by its distance to the scan, and what went along with it. */
  private drawLaid({ laid }: ScanState, { character, rig }: Loaded): void {
    for (const m of this.laid.children as Mesh[]) m.geometry.dispose();
    this.laid.clear();
    if (!laid) return;
    character.parts.forEach((part, p) => {
      if (part.kind === "garment" || part.kind === "hair") return;
      const delta = laid.deltas.find((d) => d.part === p);
      const positions = delta ? movedBy(part, delta).moved : part.positions;
      const g = new BufferGeometry();
      g.setAttribute("position", new BufferAttribute(positions, 3));
      g.setIndex(new BufferAttribute(rig.triangles[p]!, 1));
      g.computeVertexNormals();
      if (part.kind !== "body")
        return void this.laid.add(
          new Mesh(
            g,
            new MeshStandardMaterial({
              color: new Color(part.kind === "eye" || part.kind === "teeth" ? "#f1efe9" : "#8f8577"),
              roughness: 0.7,
            }),
          ),
        );
      const clay = new Color(PALE);
      const colors = new Float32Array(positions.length);
      for (let i = 0; i < colors.length; i += 3) colors.set([clay.r, clay.g, clay.b], i);
      laid.off.vertices.forEach((v, k) => colors.set(heatColor(laid.off.mm[k]! / OFF_SCALE_MM), 3 * v));
      g.setAttribute("color", new BufferAttribute(colors, 3));
      this.laid.add(new Mesh(g, new MeshStandardMaterial({ vertexColors: true, roughness: 0.85 })));
    });
  }

  private aim(e: PointerEvent, canvas: HTMLCanvasElement, camera: Camera): void {
    const box = canvas.getBoundingClientRect();
    this.ray.setFromCamera(
      new Vector2(((e.clientX - box.left) / box.width) * 2 - 1, 1 - ((e.clientY - box.top) / box.height) * 2),
      camera,
    );
  }

  /** The place of the scan under the pointer. */
  surfaceUnder(e: PointerEvent, canvas: HTMLCanvasElement, camera: Camera, scan: ScanState): Vec3 | null {
    this.aim(e, canvas, camera);
    const { origin: o, direction: d } = this.ray.ray;
    let first = Infinity;
    castRay(
      scanTree(scan),
      scan.positions,
      o.x,
      o.y,
      o.z,
      d.x || 1e-12,
      d.y || 1e-12,
      d.z || 1e-12,
      (_, distance) => (first = Math.min(first, distance)),
    );
    return first === Infinity ? null : [o.x + first * d.x, o.y + first * d.y, o.z + first * d.z];
  }

  /** The nearest pin to the pointer that is not behind the scan. */
  pinNear(e: PointerEvent, canvas: HTMLCanvasElement, camera: Camera, scan: ScanState, pixels: number): string | null {
    const box = canvas.getBoundingClientRect();
    const surface = this.surfaceUnder(e, canvas, camera, scan);
    let best: { id: string; away: number } | null = null;
    for (const { id } of scan.landmarks) {
      const at = pinAt(scan, id);
      if (!at) continue;
      const p = new Vector3(...at);
      const depth = p.distanceTo(camera.position);
      if (surface && depth > new Vector3(...surface).distanceTo(camera.position) + 0.02) continue;
      p.project(camera);
      const away = Math.hypot(
        box.left + ((p.x + 1) / 2) * box.width - e.clientX,
        box.top + ((1 - p.y) / 2) * box.height - e.clientY,
      );
      if (away <= pixels && away < (best?.away ?? Infinity)) best = { id, away };
    }
    return best?.id ?? null;
  }

  dispose(): void {
    for (const o of [this.surface, this.curves, this.proposed, this.byHand, this.chosen]) o.geometry.dispose();
    for (const m of this.laid.children as Mesh[]) m.geometry.dispose();
  }
}

let disc: CanvasTexture | null = null;
/** A round spot. */
function discTexture(): CanvasTexture {
  if (disc) return disc;
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 32;
  const pen = canvas.getContext("2d")!;
  pen.fillStyle = "#ffffff";
  pen.arc(16, 16, 15, 0, 2 * Math.PI);
  pen.fill();
  return (disc = new CanvasTexture(canvas));
}

function pins(size: number, color: string): Points<BufferGeometry, PointsMaterial> {
  const p = new Points(
    new BufferGeometry(),
    new PointsMaterial({
      color: new Color(color),
      map: discTexture(),
      alphaTest: 0.5,
      size,
      sizeAttenuation: false,
      depthTest: false,
      transparent: true,
    }),
  );
  p.renderOrder = 4;
  p.frustumCulled = false;
  return p;
}
