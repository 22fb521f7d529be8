import type { PlainMesh } from "../formats/readPly";
import { applySimilarity, SAME_PLACE, type Similarity } from "../math/similarity";
import type { Vec3 } from "../math/vec3";
import { buildBvh, type Bvh } from "../math/bvh";
import type { Tick } from "../measure/sweepMotion";
import { triangulate, type Character, type ShapeDelta } from "../model/character";
import { isUserError, UserError } from "../model/userError";
import { meshesOf, type TargetFile } from "./targets/bringTargets";
import { fitTarget } from "../shapes/targets/fitTarget";
import { faceLandmarks, skinSight, type FaceLandmark } from "../measure/faceLandmarks";
import { backTo, guessPlace, placedPositions, scanPart } from "./placeScan";
import { proposePlaces } from "./proposePlaces";
import { after } from "./stepOnto";
import { thinScan } from "./thinScan";

/** A scanned or sculpted head that was opened. */
export interface OpenedScan {
  readonly name: string;
  /** In the file's own coordinates. */
  readonly mesh: PlainMesh;
  /** The mesh's triangles as a tree over its own coordinates, to be refitted where the scan stands. */
  readonly tree: Bvh;
  /** Vertices in the file; the mesh has fewer where it was thinned. */
  readonly vertices: number;
  /** The movement itself where the file has the character's own vertices: then there is nothing to lay on. */
  readonly same: { readonly deltas: readonly ShapeDelta[]; readonly notes: readonly string[] } | null;
  readonly landmarks: readonly FaceLandmark[];
  /** To the character's place, with the distance of half of the face, mm; null where it was not found. */
  readonly placed: { readonly place: Similarity; readonly medianMm: number } | null;
  /** For each landmark where it was proposed, in the file's own coordinates. */
  readonly proposed: readonly (Vec3 | null)[];
}

/**
 * Opens an OBJ, PLY or GLB to lay the character's skin on: finds where and how large it stands, and proposes where the
 * face's landmarks are on it. A mesh with the character's own vertices needs neither. @throws UserError for a file that
 * cannot be read or has no faces.
 */
export async function openScan(
  character: Character,
  file: TargetFile,
  fitSize: boolean,
  tick: Tick = () => {},
): Promise<OpenedScan> {
  const read = (await meshesOf(file))[0];
  if (!read || read.faceStarts.length < 2)
    throw new UserError(
      "There are no faces in it: a cloud of points cannot be laid on.",
      file.name,
      "Make a surface of the points first and export it as OBJ or PLY.",
    );
  if (!read.positions.every(Number.isFinite))
    throw new UserError("Some of its vertices are no numbers.", file.name, "Export the mesh again.");
  const same = fitted(character, read);
  const { positions, corners, faceStarts } = same ? read : thinScan(read);
  const mesh: PlainMesh = { positions, corners, faceStarts };
  const tree = buildBvh(triangulate(scanPart(mesh)).triangles, mesh.positions);
  const base = {
    name: read.name,
    mesh,
    tree,
    vertices: read.positions.length / 3,
    landmarks: [],
    placed: null,
    proposed: [],
  };
  if (same) return { ...base, same, placed: { place: SAME_PLACE, medianMm: 0 } };
  const sight = skinSight(character);
  const landmarks = faceLandmarks(character);
  if (!sight) return { ...base, same: null };
  const placed = await guessPlace(sight, mesh, fitSize, (done, total) => tick(0.4 * done, total));
  if (!placed) return { ...base, same: null, landmarks, proposed: landmarks.map(() => null) };
  const { places, straight } = await proposedOn(character, mesh, placed.place, landmarks, new Map(), (done, total) =>
    tick(0.4 * total + 0.6 * done, total),
  );
  return {
    ...base,
    same: null,
    landmarks,
    placed: { ...placed, place: after(straight, placed.place) },
    proposed: places,
  };
}

/**
 * Proposes places on a scan in its own coordinates, which the given place brings to the character; and what would bring
 * both sides of it alike there.
 */
export async function proposedOn(
  character: Character,
  mesh: PlainMesh,
  place: Similarity,
  landmarks: readonly FaceLandmark[],
  known: ReadonlyMap<string, Vec3>,
  tick: Tick = () => {},
): Promise<Awaited<ReturnType<typeof proposePlaces>>> {
  const there = new Map([...known].map(([id, p]): [string, Vec3] => [id, applySimilarity(place, ...p)]));
  const { places, straight } = await proposePlaces(
    character,
    { ...mesh, positions: placedPositions(mesh, place) },
    landmarks,
    there,
    tick,
  );
  return { straight, places: places.map((p, i) => known.get(landmarks[i]!.id) ?? (p && backTo(place, p))) };
}

function fitted(character: Character, mesh: Parameters<typeof fitTarget>[1]): OpenedScan["same"] {
  try {
    return fitTarget(character, mesh);
  } catch (error) {
    if (isUserError(error)) return null;
    throw error;
  }
}
