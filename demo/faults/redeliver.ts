import { type Character, type Part } from "../../core/model/character";
import { facesOf, withFaces } from "../../core/model/withFaces";
import { smoothstep } from "../modelling/blend";
import { worldToHead } from "../figure/placement";
import { plantFaults } from "./plantFaults";
import { FOREIGN_PREFIX, SECOND_PREFIX } from "./plantedFaults";

/** How far nose and brow were moved, metres. */
const NOSE_FORWARD = 0.0018;
const BROW_UP = 0.0012;
/** The new trousers end above the ankle, metres. */
const CUT_HEIGHT = 0.22;

/**
 * Oda's second delivery: the first one exported again after modelling went on. A few hundred vertices of nose and brow
 * have moved, the trousers are shorter (another vertex count), the joints carry another prefix; the faults of the first
 * are still there.
 */
export function redeliver(clean: Character): Character {
  const first = plantFaults(clean);
  const renamed = (joint: string): string => joint.replace(FOREIGN_PREFIX, SECOND_PREFIX);
  const trousers = first.parts.findIndex((p) => p.name === "trousers");
  return {
    ...first,
    name: "Oda, delivery 2",
    parts: first.parts.map((p) =>
      p.kind === "body" || p.kind === "brow" ? remodelled(p) : p.name === "trousers" ? shortened(p) : p,
    ),
    shapes: first.shapes.map((s) => ({
      ...s,
      deltas: s.deltas.filter((d) => d.part !== trousers),
      ...(s.jointOffsets ? { jointOffsets: s.jointOffsets.map((o) => ({ ...o, joint: renamed(o.joint) })) } : {}),
    })),
    skeleton: { ...first.skeleton!, joints: first.skeleton!.joints.map((j) => ({ ...j, name: renamed(j.name) })) },
    clips: first.clips.map((clip) => ({
      ...clip,
      tracks: clip.tracks.map((t) => ({ ...t, joint: renamed(t.joint) })),
    })),
  };
}

/** How far a place of the face was moved by the modeller: the nose forward, the brows up. */
export function remodelling(p: readonly [number, number, number]): readonly [number, number, number] {
  const [x, y, z] = worldToHead(p);
  const nose = smoothstep(26, 8, Math.hypot(x, y + 36, (z - 98) * 0.7));
  const brow = smoothstep(20, 6, Math.hypot((Math.abs(x) - 28) * 0.6, y - 20, (z - 85) * 0.7));
  return [0, BROW_UP * brow, NOSE_FORWARD * nose];
}

function remodelled(part: Part): Part {
  const positions = part.positions.slice();
  for (let i = 0; i < positions.length; i += 3)
    remodelling([part.positions[i]!, part.positions[i + 1]!, part.positions[i + 2]!]).forEach(
      (d, c) => (positions[i + c]! += d),
    );
  return { ...part, positions };
}

/** Leaves out the faces below the cut and the vertices that only they used. */
function shortened(part: Part): Part {
  return withFaces(
    part,
    facesOf(part).filter(({ corners }) => corners.every((v) => part.positions[3 * v + 1]! > CUT_HEIGHT)),
  ).part;
}
