import { sketchDeltas, startSketch, revertStroke } from "~core/correctives/sketch";
import type { ReturnedSculpt } from "~core/correctives/correctiveFromSculpt";
import { mirrorCorrective, mirrorDeltas, mirrorDriver, mirrorName } from "~core/correctives/mirrorCorrective";
import type { Proposal } from "~core/correctives/proposeSculpt";
import { driverAngle, driverWeightAt } from "~core/deform/driverWeight";
import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { CorrectiveItem } from "~core/ledger/steps";
import type { Character, Driver, ShapeDelta } from "~core/model/character";
import { UserError } from "~core/model/userError";
import { sideOfBone } from "~core/skeleton/humanoidBones";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { hashOf, type StepWithBlobs } from "./ledgerClient";
import { measureWith } from "./measureClient";
import { angleAlong } from "./posing";
import { momentOf, newDraft, type Loaded, type SculptState, type Session, type SessionStore } from "./session";

/** The part a joint bends most, as far as it is measured, else the body. */
export const usualPart = (s: Session): number => s.measured?.fields.part ?? s.loaded?.character.parts.findIndex((p) => p.kind === "body") ?? -1;

/** Begins sculpting at the present pose: a new corrective of a motion on a part, or one that is edited again. */
export function beginSculpt(store: SessionStore, motion: JointMotion, editing: string | null, part = usualPart(store.getState())): void {
  const s = store.getState();
  if (!s.loaded || part < 0) throw new UserError("There is no part to sculpt on.", "", "");
  let weight = 1;
  let start: ShapeDelta | null = null;
  let { rig } = s.loaded;
  let onPart = part;
  if (editing) {
    const shape = s.loaded.character.shapes.find((x) => x.name === editing);
    const driver = s.loaded.character.drivers.find((d) => d.shape === editing);
    if (!shape || !driver) throw new UserError(`There is no corrective named ${editing}.`, "", "");
    weight = driverWeightAt({ ...driver, enabled: true }, driverAngle(driver, s.pose));
    if (weight < 0.1) throw new UserError("The corrective hardly acts in this pose.", "", `Turn ${driver.joint} to between ${driver.fromDegrees} and ${driver.toDegrees} degrees first.`);
    start = [...shape.deltas].sort((a, b) => b.vertices.length - a.vertices.length)[0] ?? null;
    onPart = start?.part ?? part;
    const without: Character = { ...s.loaded.character, drivers: s.loaded.character.drivers.filter((d) => d.shape !== editing) };
    rig = { ...rig, character: without };
  }
  // clothes would hide the skin under the brush
  const dressed = s.loaded.character.parts[onPart]!.kind === "garment" && s.dressed;
  store.setState({ dressed, sculpt: { sketch: startSketch(rig, onPart, start, weight), editing, joint: motion.joint, motion, purpose: null, undo: [], redo: [], version: 0, name: null, draft: newDraft() } });
}

const step = (store: SessionStore, from: "undo" | "redo", to: "undo" | "redo"): void => {
  const { sculpt } = store.getState();
  const record = sculpt?.[from][sculpt[from].length - 1];
  if (!sculpt || !record) return;
  const back = revertStroke(sculpt.sketch, record);
  store.setState({ sculpt: { ...sculpt, [from]: sculpt[from].slice(0, -1), [to]: [...sculpt[to], back], version: sculpt.version + 1 } });
};
export const undoStroke = (store: SessionStore): void => step(store, "undo", "redo");
export const redoStroke = (store: SessionStore): void => step(store, "redo", "undo");

const freeName = (character: Character, base: string): string => {
  const taken = new Set(character.shapes.map((s) => s.name));
  for (let n = 1; ; n++) if (!taken.has(n === 1 ? base : `${base} ${n}`)) return n === 1 ? base : `${base} ${n}`;
};

/** Driver a new corrective starts with: from half way to the angle it was sculpted at. */
export function firstDriver(loaded: Loaded, motion: JointMotion, angle: number, name: string): Driver {
  const near = loaded.character.drivers.some((d) => d.joint === motion.joint);
  return { shape: name, joint: motion.joint, axis: motion.axis, fromDegrees: near ? Math.round(angle * 0.65) : Math.round(angle * 0.4), toDegrees: angle, easing: "smooth", intensity: 1, enabled: true };
}

/** A corrective as a step carries it, with its bytes. */
export async function correctiveItem(character: Character, deltas: readonly ShapeDelta[], driver: Driver, label: string): Promise<{ item: CorrectiveItem; bytes: Uint8Array }> {
  const bytes = encodeDeltas(character, deltas);
  return { bytes, item: { name: driver.shape, label, blob: await hashOf(bytes), driver: { ...driver, axis: [...driver.axis] } } };
}

/** The step that keeps a new corrective; with both sides on, the other side's half becomes a corrective of the other joint. */
export async function makeStep(s: Session & { loaded: Loaded }, motion: JointMotion, name: string, deltas: readonly ShapeDelta[], other: readonly ShapeDelta[] | null): Promise<StepWithBlobs> {
  const { character } = s.loaded;
  const angle = angleAlong(motion, s.pose);
  const driver = firstDriver(s.loaded, motion, angle, freeName(character, name));
  const first = await correctiveItem(character, deltas, driver, driver.shape);
  const made = [first];
  if (other && other.some((d) => d.vertices.length > 0)) {
    const mirrored = mirrorDriver(character, driver);
    const otherName = freeName(character, mirrorName(driver.shape));
    made.push(await correctiveItem(character, other, { ...mirrored, shape: otherName }, otherName));
  }
  return { step: { op: "make correctives", items: made.map((m) => m.item) }, blobs: made.map((m) => m.bytes) };
}

/** Turns the sketch on the stage into a ledger step. */
export async function sketchStep(s: Session & { loaded: Loaded; sculpt: SculptState }, name: string): Promise<StepWithBlobs> {
  const { sketch, editing, motion } = s.sculpt;
  const { character } = s.loaded;
  if (!motion) throw new UserError("The sculpt corrects no motion.", "", "");
  const side = sideOfBone(motion.bone);
  if (editing) {
    const rest = character.shapes.find((x) => x.name === editing)!.deltas.filter((d) => d.part !== sketch.part);
    const bytes = encodeDeltas(character, [...rest, sketchDeltas(sketch)]);
    return { step: { op: "edit corrective", name: editing, blob: await hashOf(bytes) }, blobs: [bytes] };
  }
  const split = s.brush.symmetric && side !== null;
  const own = sketchDeltas(sketch, split ? side : "both");
  if (own.vertices.length === 0) throw new UserError("Nothing was sculpted yet.", "", "Stroke over the skin on the stage first.");
  return makeStep(s, motion, name, [own], split ? [sketchDeltas(sketch, side === "left" ? "right" : "left")] : null);
}

/** The step that keeps a sculpt proposed by measure; with both sides on, the other side gets the mirror image. */
export async function proposalStep(s: Session & { loaded: Loaded }, motion: JointMotion, proposal: Proposal, name: string): Promise<StepWithBlobs> {
  const both = s.brush.symmetric && sideOfBone(motion.bone) !== null;
  return makeStep(s, motion, name, proposal.deltas, both ? mirrorDeltas(s.loaded.character, proposal.deltas).deltas : null);
}

/** Returns a sculpted OBJ of the present pose to rest and makes the step that keeps it. */
export async function fileStep(s: Session & { loaded: Loaded }, motion: JointMotion, file: File, name: string): Promise<StepWithBlobs & Pick<ReturnedSculpt, "ill" | "residual">> {
  const api = await measureWith(s.loaded);
  const made = await api.returnSculpt(momentOf(s), new Uint8Array(await file.arrayBuffer()), file.name);
  if ("refused" in made) throw new UserError(made.refused.what, made.refused.where, made.refused.todo);
  if (made.deltas.length === 0) throw new UserError("The file is the same as the posed mesh: nothing was moved.", file.name, "Sculpt it, keeping the vertex order.");
  return { ...(await makeStep(s, motion, name, made.deltas, null)), ill: made.ill, residual: made.residual };
}

/** The step that gives a corrective its counterpart on the other side; refused when one of that name is there. */
export async function mirrorStep(character: Character, name: string): Promise<StepWithBlobs & { unmatched: number }> {
  const shape = character.shapes.find((x) => x.name === name);
  const driver = character.drivers.find((d) => d.shape === name);
  if (!shape || !driver) throw new UserError(`There is no corrective named ${name}.`, "", "");
  const mirrored = mirrorCorrective(character, shape, driver);
  if (character.shapes.some((x) => x.name === mirrored.shape.name)) throw new UserError(`${mirrored.shape.name} is there already.`, "", "Remove it first if it should be made again.");
  const made = await correctiveItem(character, mirrored.shape.deltas, mirrored.driver, mirrored.shape.label);
  return { step: { op: "make correctives", items: [made.item] }, blobs: [made.bytes], unmatched: mirrored.unmatched };
}
