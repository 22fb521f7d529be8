import { sketchDeltas, startSketch } from "~core/correctives/sketch";
import { answerStacked } from "~core/correctives/stackedOn";
import { driversAlong, insertSculpt, type InsertedSculpt } from "~core/correctives/insertSculpt";
import { poseDifference, readPoseNote, type PoseNote } from "~core/correctives/poseNote";
import type { Pose } from "~core/evaluate/poseSkeleton";
import { movedWords, type TakenSculpt } from "~core/correctives/takeSculpt";
import { mixShapes } from "~core/shapes/mixShapes";
import { carryMovement, carrySurface } from "~core/surface/carryMovement";
import { mirrorCorrective, mirrorDriver } from "~core/correctives/mirrorCorrective";
import { mirrorDeltas, mirrorName } from "~core/shapes/mirrorDeltas";
import type { Proposal } from "~core/correctives/proposeSculpt";
import { driverAngle, driverWeightAt } from "~core/evaluate/drivers/driverWeight";
import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { CorrectiveItem } from "~core/ledger/steps";
import type { Character, Driver, ShapeDelta } from "~core/model/character";
import { UserError } from "~core/model/userError";
import { sideOfBone } from "~core/names/humanoidBones";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { onTopWords, writtenGivingWay } from "./givingWay";
import { hashOf, type StepWithBlobs } from "./ledgerClient";
import { givenFile } from "./jobs/givenFile";
import { askJob } from "./jobs/pageJobs";
import { angleAlong } from "./posing";
import { momentOf, type Loaded, type Session, type SessionStore } from "./session";
import { newDraft, type SculptState } from "./slices/tools";
import { NO_HISTORY } from "./history";
import { drivenWeight, switchedOn, undriven } from "~core/evaluate/drivers/drivenWeight";
import { poseDriven } from "~core/model/drivenShapes";

/** The part a joint bends most, as far as it is measured, else the body. */
export const usualPart = (s: Session): number =>
  s.measured?.fields.part ?? s.loaded?.character.parts.findIndex((p) => p.kind === "body") ?? -1;

/** Begins sculpting at the present pose: a new corrective of a motion on a part, or one that is edited again. */
export function beginSculpt(
  store: SessionStore,
  motion: JointMotion,
  editing: string | null,
  part = usualPart(store.getState()),
): void {
  const s = store.getState();
  if (!s.loaded || part < 0) throw new UserError("There is no part to sculpt on.", "", "");
  let weight = 1;
  let start: ShapeDelta | null = null;
  let { rig } = s.loaded;
  let onPart = part;
  if (editing) {
    const shape = s.loaded.character.shapes.find((x) => x.name === editing);
    if (!shape || !poseDriven(s.loaded.character).has(editing))
      throw new UserError(`There is no corrective named ${editing}.`, "", "");
    weight = drivenWeight(switchedOn(s.loaded.character, editing), editing, momentOf(s));
    if (weight < 0.1)
      throw new UserError(
        "The corrective hardly acts in this pose.",
        "",
        "Put the figure into the pose that it is for first.",
      );
    // the skin first: clothes follow it
    const isSkin = (d: ShapeDelta): number => (s.loaded!.character.parts[d.part]!.kind === "body" ? 1 : 0);
    start = [...shape.deltas].sort((a, b) => isSkin(b) - isSkin(a) || b.vertices.length - a.vertices.length)[0] ?? null;
    onPart = start?.part ?? part;
    rig = { ...rig, character: undriven(s.loaded.character, editing) };
  }
  // clothes would hide the skin under the brush
  const dressed = s.loaded.character.parts[onPart]!.kind === "garment" && s.dressed;
  store.setState({
    dressed,
    sculpt: {
      sketch: startSketch(rig, onPart, start, weight),
      editing,
      joint: motion.joint,
      motion,
      purpose: null,
      ...NO_HISTORY,
      version: 0,
      name: null,
      draft: newDraft(),
      wasDressed: s.dressed,
    },
  });
}

const freeName = (character: Character, base: string): string => {
  const taken = new Set(character.shapes.map((s) => s.name));
  for (let n = 1; ; n++) if (!taken.has(n === 1 ? base : `${base} ${n}`)) return n === 1 ? base : `${base} ${n}`;
};

/** A corrective as a step carries it, with its bytes. */
export async function correctiveItem(
  character: Character,
  deltas: readonly ShapeDelta[],
  driver: Driver,
  label: string,
): Promise<{ item: CorrectiveItem; bytes: Uint8Array }> {
  const bytes = encodeDeltas(character, deltas);
  return {
    bytes,
    item: { name: driver.shape, label, blob: await hashOf(bytes), driver: { ...driver, axis: [...driver.axis] } },
  };
}

/**
 * A new corrective among those that its joint has at other angles: what is made, what gives way, and how well the
 * others are still met.
 */
async function among(
  character: Character,
  base: Omit<Driver, "shape" | "fromDegrees">,
  name: string,
  deltas: readonly ShapeDelta[],
): Promise<{
  made: Awaited<ReturnType<typeof correctiveItem>>;
  edits: { name: string; blob: string; fromDegrees: number | null }[];
  bytes: Uint8Array[];
  met: InsertedSculpt["met"];
}> {
  const inserted = insertSculpt(character, base.joint, base.axis, base.toDegrees, deltas);
  const made = await correctiveItem(
    character,
    inserted.deltas,
    { ...base, shape: name, fromDegrees: inserted.fromDegrees },
    name,
  );
  const bytes = inserted.edits.map((e) => encodeDeltas(character, e.deltas));
  const edits = await Promise.all(
    inserted.edits.map(async (e, i) => ({ name: e.name, blob: await hashOf(bytes[i]!), fromDegrees: e.fromDegrees })),
  );
  return { made, edits, bytes, met: inserted.met };
}

/** A corrective that the joint has at this very angle already; a new sculpt can take its place or come on top. */
export function correctiveAt(
  { loaded, pose }: Pick<Session, "pose"> & { loaded: Loaded },
  motion: JointMotion,
): Driver | null {
  const angle = angleAlong(motion, pose);
  return (
    driversAlong(loaded.character, motion.joint, motion.axis, angle).find((c) => Math.abs(c.to - angle) <= 5)?.driver ??
    null
  );
}

export type MadeStep = ToldStep & { readonly met: InsertedSculpt["met"] };

/**
 * The step that keeps a new corrective; with both sides on, the other side's half becomes a corrective of the other
 * joint. Those at other angles of the joint give way, so that every one is met at its own.
 */
export async function makeStep(
  s: Session & { loaded: Loaded },
  motion: JointMotion,
  name: string,
  deltas: readonly ShapeDelta[],
  other: readonly ShapeDelta[] | null,
): Promise<MadeStep> {
  const { character } = s.loaded;
  const base = {
    joint: motion.joint,
    axis: motion.axis,
    toDegrees: angleAlong(motion, s.pose),
    easing: "smooth",
    intensity: 1,
    enabled: true,
    method: s.method,
  } as const;
  const own = freeName(character, name);
  const all = [await among(character, base, own, deltas)];
  if (other && other.some((d) => d.vertices.length > 0)) {
    const mirrored = mirrorDriver(character, { ...base, shape: own, fromDegrees: 0 });
    all.push(await among(character, mirrored, freeName(character, mirrorName(own)), other));
  }
  const edits = all.flatMap((m) => m.edits);
  return {
    step: { op: "make correctives", items: all.map((m) => m.made.item), ...(edits.length ? { edits } : {}) },
    blobs: [...all.map((m) => m.made.bytes), ...all.flatMap((m) => m.bytes)],
    met: all.flatMap((m) => m.met),
  };
}

/** A step, and what is to be said of it once it is taken. */
export type ToldStep = StepWithBlobs & { readonly told?: string };

/** The step that gives a corrective another movement; those on top of it give way, and what else moves is told. */
async function editStep(character: Character, name: string, deltas: readonly ShapeDelta[]): Promise<ToldStep> {
  const old = character.shapes.find((x) => x.name === name)!;
  const change = mixShapes([
    [{ deltas }, 1],
    [old, -1],
  ]);
  const { edits, moved } = answerStacked(character, name, change);
  const own = encodeDeltas(character, deltas);
  const given = await writtenGivingWay(character, edits);
  const told = [
    onTopWords(edits),
    moved.length
      ? `${moved[0]!.name}, made before it, no longer gives its sculpt: off by ${moved[0]!.mm.toFixed(1)} mm${moved.length > 1 ? `, and ${moved.length - 1} more` : ""}.`
      : "",
  ];
  return {
    step: { op: "edit corrective", name, blob: await hashOf(own), ...(edits.length ? { edits: given.edits } : {}) },
    blobs: [own, ...given.blobs],
    told: told.filter(Boolean).join(" "),
  };
}

/** The step that puts a sculpt made on top of a corrective into it. */
async function replaceStep(
  character: Character,
  driver: Driver,
  weight: number,
  deltas: readonly ShapeDelta[],
): Promise<MadeStep> {
  const old = character.shapes.find((x) => x.name === driver.shape)!;
  const now = mixShapes([
    [old, 1],
    [{ deltas }, 1 / weight],
  ]);
  return { ...(await editStep(character, driver.shape, now)), met: [] };
}

/** The movement of the skin with the clothes over it, and what else lies on it, carried along. */
export function withClothes(character: Character, deltas: readonly ShapeDelta[]): readonly ShapeDelta[] {
  const skin = deltas.find((d) => character.parts[d.part]!.kind === "body");
  if (!skin) return deltas;
  const surface = carrySurface(character.parts[skin.part]!);
  const moved = new Set(deltas.map((d) => d.part));
  return [
    ...deltas,
    ...character.parts.flatMap((_, p) => (moved.has(p) ? [] : (carryMovement(character, p, skin, surface) ?? []))),
  ].sort((a, b) => a.part - b.part);
}

/** Turns the sketch on the stage into a ledger step. */
export async function sketchStep(
  s: Session & { loaded: Loaded; sculpt: SculptState },
  name: string,
  clothes: boolean,
): Promise<ToldStep> {
  const dress = (deltas: readonly ShapeDelta[]): readonly ShapeDelta[] =>
    clothes ? withClothes(s.loaded.character, deltas) : deltas;
  const { sketch, editing, motion } = s.sculpt;
  const { character } = s.loaded;
  if (!motion) throw new UserError("The sculpt corrects no motion.", "", "");
  const side = sideOfBone(motion.bone);
  if (editing) {
    const old = character.shapes.find((x) => x.name === editing)!;
    const own = sketchDeltas(sketch);
    const before = old.deltas.find((d) => d.part === sketch.part);
    // what changed on the skin is carried to the clothes; what they did before stays
    const change = mixShapes([
      [{ deltas: [own] }, 1],
      [{ deltas: before ? [before] : [] }, -1],
    ]);
    const others = dress(change).filter((d) => d.part !== sketch.part);
    return editStep(
      character,
      editing,
      [
        ...mixShapes([
          [{ deltas: old.deltas.filter((d) => d.part !== sketch.part) }, 1],
          [{ deltas: others }, 1],
        ]),
        own,
      ].sort((a, b) => a.part - b.part),
    );
  }
  const split = s.brush.symmetric && side !== null;
  const own = sketchDeltas(sketch, split ? side : "both");
  if (own.vertices.length === 0)
    throw new UserError("Nothing was sculpted yet.", "", "Stroke over the skin on the stage first.");
  return makeStep(
    s,
    motion,
    name,
    dress([own]),
    split ? dress([sketchDeltas(sketch, side === "left" ? "right" : "left")]) : null,
  );
}

/** The step that keeps a sculpt proposed by measure; with both sides on, the other side gets the mirror image. */
export async function proposalStep(
  s: Session & { loaded: Loaded },
  motion: JointMotion,
  proposal: Proposal,
  name: string,
): Promise<StepWithBlobs> {
  const both = s.brush.symmetric && sideOfBone(motion.bone) !== null;
  return makeStep(
    s,
    motion,
    name,
    proposal.deltas,
    both ? mirrorDeltas(s.loaded.character, proposal.deltas).deltas : null,
  );
}

export interface FileChoices {
  /** Whether a sculpt that looks like one of another pose is taken all the same. */
  readonly sure: boolean;
  /** Whether the clothes over the skin go along. */
  readonly clothes: boolean;
  /** What becomes of a corrective that is there at this angle. */
  readonly there: "ask" | "replace" | "one more";
}
/** A sculpt from a file as a step, or what has to be asked first. */
export type FileStep =
  | { readonly ask: "pose" | "replace"; readonly text: string }
  | { readonly ask: "stand"; readonly text: string; readonly stand: PoseNote; readonly motion: JointMotion }
  | (MadeStep & Pick<TakenSculpt, "ill" | "residual" | "moved" | "notes">);

/** The motion that a pose is most of; null where it is none's. */
function motionOfPose(motions: readonly JointMotion[], pose: Pose): JointMotion | null {
  const all = motions.map((motion) => ({ motion, angle: Math.abs(angleAlong(motion, pose)) }));
  const most = all.sort((a, b) => b.angle - a.angle)[0];
  return most && most.angle > 0 ? most.motion : null;
}

/** Returns a sculpted OBJ of the present pose to rest and makes the step that keeps it. */
export async function fileStep(
  s: Session & { loaded: Loaded },
  motion: JointMotion,
  file: File,
  name: string,
  { sure, clothes, there }: FileChoices,
): Promise<FileStep> {
  const given = await givenFile(file);
  const note = readPoseNote(given.bytes);
  const difference = note && poseDifference(note, momentOf(s));
  const sent = note && difference ? motionOfPose(s.loaded.motions, note.pose) : null;
  if (note && difference && sent)
    return {
      ask: "stand",
      text: `It is a sculpt of ${sent.label} ${angleAlong(sent, note.pose)}: ${difference}.`,
      stand: note,
      motion: sent,
    };
  if (angleAlong(motion, s.pose) === 0)
    throw new UserError(
      "The figure is at rest, and the file does not say which pose it was sculpted in.",
      file.name,
      "Bend the joint as it was when the mesh was sent out.",
    );
  const made = await askJob(s.loaded, "return sculpt", { moment: momentOf(s), file: given });
  if (made.deltas.length === 0)
    throw new UserError(
      "The file is the same as the posed mesh: nothing was moved.",
      file.name,
      "Sculpt it, keeping the vertex order.",
    );
  if (made.doubt && !sure) return { ask: "pose", text: `${made.doubt} ${movedWords(made.moved)}` };
  const old = correctiveAt(s, motion);
  if (old && there === "ask")
    return {
      ask: "replace",
      text: `${old.shape} is there at ${Math.round(Math.abs(old.toDegrees))} degrees. ${movedWords(made.moved)}`,
    };
  const deltas = clothes ? withClothes(s.loaded.character, made.deltas) : made.deltas;
  const weight = old ? driverWeightAt({ ...old, enabled: true }, driverAngle(old, s.pose)) : 0;
  const step =
    old && there === "replace" && weight > 0.1
      ? await replaceStep(s.loaded.character, old, weight, deltas)
      : await makeStep(s, motion, name, deltas, null);
  return { ...step, ill: made.ill, residual: made.residual, moved: made.moved, notes: made.notes };
}

/** The step that gives a corrective its counterpart on the other side; refused when one of that name is there. */
export async function mirrorStep(character: Character, name: string): Promise<StepWithBlobs & { unmatched: number }> {
  const shape = character.shapes.find((x) => x.name === name);
  const driver = character.drivers.find((d) => d.shape === name);
  if (!shape || !driver) throw new UserError(`There is no corrective named ${name}.`, "", "");
  const mirrored = mirrorCorrective(character, shape, driver);
  if (character.shapes.some((x) => x.name === mirrored.shape.name))
    throw new UserError(`${mirrored.shape.name} is there already.`, "", "Remove it first if it should be made again.");
  const made = await correctiveItem(character, mirrored.shape.deltas, mirrored.driver, mirrored.shape.label);
  return { step: { op: "make correctives", items: [made.item] }, blobs: [made.bytes], unmatched: mirrored.unmatched };
}
