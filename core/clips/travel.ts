import { add, sub, type Vec3 } from "../math/vec3";
import { setPlaceAt, standing, travellerTo, type Motion, type Standing } from "./motion";
import type { Fitting } from "../model/fitting";

/** The slow part of a way is its mean over this, seconds: about one step of a walk to either side. */
const SLOWLY = 1.1;

/** The pelvis' way in space, frame by frame. */
export function wayOf(motion: Motion): Vec3[] {
  const room: Standing = { turns: [], places: [] };
  return Array.from({ length: motion.frames }, (_, f) => standing(motion, f, room).places[motion.traveller]!);
}

/** Moves the pelvis to places in space, frame by frame. */
export function setWay(motion: Motion, way: readonly Vec3[]): void {
  const room: Standing = { turns: [], places: [] };
  for (let f = 0; f < motion.frames; f++)
    setPlaceAt(motion, f, travellerTo(motion, way[f]!, standing(motion, f, room)));
}

/** The way as it goes on slowly, over the floor: mean over a second around each frame. */
function slowWay(way: readonly Vec3[], fps: number): Vec3[] {
  const half = Math.max(1, Math.round((SLOWLY * fps) / 2));
  return way.map((_, f) => {
    const [a, b] = [Math.max(0, f - half), Math.min(way.length - 1, f + half)];
    let [x, z] = [0, 0];
    for (let k = a; k <= b; k++) {
      x += way[k]![0];
      z += way[k]![2];
    }
    // near the ends the mean leans inward: it is taken on along the line
    const middle = (a + b) / 2;
    const lean = f - middle;
    const slope = (c: 0 | 2): number => (b > a ? (way[b]![c] - way[a]![c]) / (b - a) : 0);
    const n = b - a + 1;
    return [x / n + lean * slope(0), 0, z / n + lean * slope(2)];
  });
}

/** The travel kept, taken out, or brought onto the straight line from its start to its end; sway stays. */
export function layTravel(motion: Motion, travel: Fitting["travel"]): void {
  if (travel === "kept") return;
  const way = wayOf(motion);
  const slow = slowWay(way, motion.fps);
  const [start, end] = [slow[0]!, slow[slow.length - 1]!];
  const line = sub(end, start);
  const long = Math.hypot(line[0], line[2]);
  setWay(
    motion,
    way.map((at, f) => {
      const sway = sub(at, slow[f]!);
      if (travel === "on the spot" || long < 1e-6) return add([start[0], 0, start[2]], sway);
      const gone = ((slow[f]![0] - start[0]) * line[0] + (slow[f]![2] - start[2]) * line[2]) / (long * long);
      return add([start[0] + gone * line[0], 0, start[2] + gone * line[2]], sway);
    }),
  );
}
