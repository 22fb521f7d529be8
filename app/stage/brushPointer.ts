import {
  BufferAttribute,
  BufferGeometry,
  Color,
  LineBasicMaterial,
  LineLoop,
  Raycaster,
  Vector2,
  Vector3,
  type Camera,
  type Ray,
} from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { buildBvh, castRay, refitBvh, type Bvh } from "~core/math/bvh";

/** Where a brush meets the surface. */
export interface Hit {
  readonly point: Vector3;
  readonly normal: Vector3;
  readonly vertex: number;
}

const RING = 48;
export const makeRing = (color: string): LineLoop => {
  const g = new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(3 * RING), 3));
  const loop = new LineLoop(g, new LineBasicMaterial({ color: new Color(color), depthTest: false, transparent: true }));
  loop.renderOrder = 4;
  loop.frustumCulled = false;
  loop.visible = false;
  return loop;
};

export function placeRing(ring: LineLoop, centre: Vector3, normal: Vector3, radius: number): void {
  const u = new Vector3(Math.abs(normal.x) < 0.9 ? 1 : 0, Math.abs(normal.x) < 0.9 ? 0 : 1, 0)
    .cross(normal)
    .normalize();
  const w = normal.clone().cross(u);
  const at = ring.geometry.getAttribute("position") as BufferAttribute;
  for (let i = 0; i < RING; i++) {
    const a = (2 * Math.PI * i) / RING;
    at.setXYZ(
      i,
      centre.x + radius * (Math.cos(a) * u.x + Math.sin(a) * w.x),
      centre.y + radius * (Math.cos(a) * u.y + Math.sin(a) * w.y),
      centre.z + radius * (Math.cos(a) * u.z + Math.sin(a) * w.z),
    );
  }
  at.needsUpdate = true;
  ring.visible = true;
}

/** Finds where rays meet one part's deformed surface from the front; its tree is refitted for every ray. */
export class SurfaceFinder {
  private tree: { part: number; bvh: Bvh } | null = null;

  find({ origin, direction }: Ray, part: number, triangles: Uint32Array, P: Float32Array, N: Float32Array): Hit | null {
    if (this.tree?.part !== part) this.tree = { part, bvh: buildBvh(triangles, P) };
    else refitBvh(this.tree.bvh, P);
    let best = Infinity;
    let triangle = -1;
    castRay(
      this.tree.bvh,
      P,
      origin.x,
      origin.y,
      origin.z,
      direction.x || 1e-12,
      direction.y || 1e-12,
      direction.z || 1e-12,
      (t, d, sign) => {
        if (sign < 0 && d < best) {
          best = d;
          triangle = t;
        }
      },
    );
    if (triangle < 0) return null;
    const vertex = triangles[3 * triangle]!;
    return {
      point: origin.clone().addScaledVector(direction, best),
      normal: new Vector3(N[3 * vertex], N[3 * vertex + 1], N[3 * vertex + 2]),
      vertex,
    };
  }
}

export interface BrushHandlers {
  readonly find: (ray: Ray) => Hit | null;
  readonly showRing: (hit: Hit | null) => void;
  readonly radius: () => number;
  readonly setRadius: (mm: number) => void;
  /** Whether the brush takes the surface along with the pointer instead of dabbing. */
  readonly drags: () => boolean;
  readonly begin: () => void;
  readonly dab: (centre: Vector3, drag: Vector3, invert: boolean) => void;
  readonly end: () => unknown;
}

/** Way of the pointer, in radii, after which the next dab comes. */
const SPACING = 0.12;

/**
 * Turns the pointer over the stage into strokes of a brush; the wheel sets its radius. @returns what stops listening.
 */
export function listenToBrush(
  canvas: HTMLCanvasElement,
  camera: Camera,
  controls: () => OrbitControls | null,
  on: BrushHandlers,
): () => void {
  const strokes = new Strokes(canvas, camera, controls, on);
  const stop = new AbortController();
  const { signal } = stop;
  canvas.addEventListener("pointerdown", (e) => strokes.down(e), { capture: true, signal });
  canvas.addEventListener("pointermove", (e) => strokes.move(e), { signal });
  canvas.addEventListener("pointerup", (e) => strokes.up(e), { signal });
  canvas.addEventListener("pointercancel", (e) => strokes.up(e), { signal });
  canvas.addEventListener("wheel", (e) => strokes.wheel(e), { capture: true, passive: false, signal });
  return () => {
    stop.abort();
    strokes.setOrbit(true);
  };
}

class Strokes {
  private readonly ray = new Raycaster();
  private stroke: { last: Vector3; depth: number } | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly camera: Camera,
    private readonly controls: () => OrbitControls | null,
    private readonly on: BrushHandlers,
  ) {}

  /** What the pointer is over. */
  private find(e: PointerEvent | WheelEvent): Hit | null {
    this.aim(e);
    return this.on.find(this.ray.ray);
  }

  private aim(e: PointerEvent | WheelEvent): void {
    const box = this.canvas.getBoundingClientRect();
    this.ray.setFromCamera(
      new Vector2(((e.clientX - box.left) / box.width) * 2 - 1, 1 - ((e.clientY - box.top) / box.height) * 2),
      this.camera,
    );
  }

  setOrbit(enabled: boolean): void {
    const orbit = this.controls();
    if (orbit) orbit.enabled = enabled;
  }

  down(e: PointerEvent): void {
    if (e.button !== 0 || e.altKey) return;
    const hit = this.find(e);
    if (!hit) return;
    e.stopImmediatePropagation();
    e.preventDefault();
    this.canvas.setPointerCapture(e.pointerId);
    this.setOrbit(false);
    this.stroke = { last: hit.point.clone(), depth: hit.point.distanceTo(this.camera.position) };
    this.on.begin();
    if (!this.on.drags()) this.on.dab(hit.point, new Vector3(), e.shiftKey);
  }

  move(e: PointerEvent): void {
    const { on, stroke } = this;
    if (!stroke) return on.showRing(this.find(e));
    if (on.drags()) {
      this.aim(e);
      const now = this.ray.ray.origin.clone().addScaledVector(this.ray.ray.direction, stroke.depth);
      on.dab(stroke.last, now.clone().sub(stroke.last), false);
      stroke.last = now;
      return;
    }
    const hit = this.find(e);
    if (!hit || hit.point.distanceTo(stroke.last) < (SPACING * on.radius()) / 1000) return;
    stroke.last = hit.point.clone();
    on.dab(hit.point, new Vector3(), e.shiftKey);
    on.showRing(hit);
  }

  up(e: PointerEvent): void {
    if (!this.stroke) return;
    if (this.canvas.hasPointerCapture(e.pointerId)) this.canvas.releasePointerCapture(e.pointerId);
    this.setOrbit(true);
    this.stroke = null;
    this.on.end();
  }

  wheel(e: WheelEvent): void {
    const { on } = this;
    const hit = this.find(e);
    if (!hit) return;
    e.preventDefault();
    e.stopImmediatePropagation();
    on.setRadius(Math.round(Math.min(200, Math.max(2, on.radius() * (e.deltaY > 0 ? 0.9 : 1.111))) * 10) / 10);
    on.showRing(hit);
  }
}
