import { vertexCountOf, type Character } from "~core/model/character";
import { mirrorMap } from "~core/model/mirrorMap";
import { UserError } from "~core/model/userError";
import { placedPositions } from "~core/wrap/placeScan";
import { SAME_PLACE } from "~core/math/similarity";
import { beginPaint } from "~core/weights/paintWeights";
import { placeOfScan, type ScanState } from "../scan";
import { beginSculpt } from "../sculpt";
import { beginShapeSculpt, purposeWords } from "../sculptShape";
import type { Session, SessionStore } from "../session";
import { heavyOf, type Draft, type DraftContent, type DraftPlace, type DraftView } from "./drafts";
import { NO_HISTORY } from "../history";
import type { Tool } from "./keptTools";

/** Strokes that can still be taken back after a draft is taken up again. */
const MOST_STROKES = 60;
const viewOf = ({ pose, weights, method, drivers, joint }: Session): DraftView => ({
  pose,
  weights,
  method,
  drivers,
  joint,
});
const strokes = (n: number): string => (n === 1 ? "1 stroke" : `${n} strokes`);

type Described = Omit<Draft, "id" | "character" | "changedAt">;

/** What a tool holds, as a draft; null when there is nothing in it that could be lost. */
export function describeWork(s: Session, tool: Tool): Described | null {
  const parts = s.loaded?.character.parts;
  if (!parts) return null;
  if (tool === "sculpt") return sculptDraft(s, parts);
  if (tool === "paint") return paintDraft(s, parts);
  if (tool === "mask") {
    const { mask } = s;
    const part = mask && parts[mask.of.part];
    if (!mask || !part || mask.of.values.every((x) => x === 0)) return null;
    const makes = s.scan ? "scan" : "hand";
    return {
      title: `a mask on ${part.name}`,
      amount: strokes(mask.undo.length),
      place: { station: "shapes", query: { leaf: "make", make: makes } },
      content: {
        kind: "mask",
        part: part.name,
        values: mask.of.values,
        undo: mask.undo.slice(-MOST_STROKES),
        redo: mask.redo.slice(-MOST_STROKES),
      },
    };
  }
  const { scan } = s;
  if (!scan) return null;
  const byHand = [...scan.places.values()].filter((p) => p.byHand).length;
  const { positions: _placed, mesh: _mesh, tree: _tree, ...rest } = scan;
  return {
    title: `the scan ${scan.name}`,
    amount: `${scan.places.size} landmarks, ${byHand} set by hand`,
    place: { station: "shapes", query: { leaf: "make", make: "scan" } },
    content: { kind: "scan", scan: rest },
  };
}

function sculptDraft(s: Session, parts: Character["parts"]): Described | null {
  const { sculpt } = s;
  const part = sculpt && parts[sculpt.sketch.part];
  if (!sculpt || !part || sculpt.undo.length + sculpt.redo.length === 0) return null;
  const { sketch, editing, motion, purpose, name } = sculpt;
  const of = editing ?? motion?.label ?? (purpose && purposeWords(purpose)) ?? name ?? "a new shape";
  const place: DraftPlace = motion
    ? { station: "correctives", query: { open: motion.id } }
    : { station: "shapes", query: { leaf: "make", make: "hand" } };
  const content: DraftContent = {
    kind: "sculpt",
    part: part.name,
    vertexCount: vertexCountOf(part),
    deltas: sketch.deltas,
    began: sketch.began,
    ill: [...sketch.ill],
    editing,
    motion,
    purpose,
    name,
    undo: sculpt.undo.slice(-MOST_STROKES),
    redo: sculpt.redo.slice(-MOST_STROKES),
    view: viewOf(s),
  };
  return { title: `a sculpt of ${of} on ${part.name}`, amount: strokes(sculpt.undo.length), place, content };
}

function paintDraft(s: Session, parts: Character["parts"]): Described | null {
  const { paint } = s;
  const part = paint && parts[paint.of.part];
  if (!paint || !part || paint.undo.length === 0) return null;
  const joints = s.loaded!.character.skeleton?.joints.map((j) => j.name) ?? [];
  return {
    title: `weights painted on ${part.name}`,
    amount: strokes(paint.undo.length),
    place: { station: "skeleton", query: { leaf: "weights", open: part.name } },
    content: {
      kind: "weights",
      part: part.name,
      vertexCount: vertexCountOf(part),
      joints,
      dense: paint.of.dense,
      tool: paint.tool,
      painted: paint.joints,
      undo: paint.undo.slice(-MOST_STROKES),
      redo: paint.redo.slice(-MOST_STROKES),
      view: viewOf(s),
    },
  };
}

/**
 * The part a draft was made on, when it is still of the same vertices. @throws UserError that says what became of it.
 */
function partFor(character: Character, name: string, vertexCount: number): number {
  const index = character.parts.findIndex((p) => p.name === name);
  if (index < 0)
    throw new UserError(`There is no part named ${name} any more.`, "", "Undo to where it was, and go on there.");
  const count = vertexCountOf(character.parts[index]!);
  if (count !== vertexCount)
    throw new UserError(
      `It was made on ${vertexCount.toLocaleString("en")} vertices ` +
        `of ${name}; it has ${count.toLocaleString("en")} now.`,
      "",
      "Undo to where it had them, or go back to that delivery, and go on there.",
    );
  return index;
}

/**
 * Puts a draft back into its tool, in the pose and mix it was made over. @throws UserError when the character as it
 * stands cannot take it; it is kept then.
 */
export async function takeUpDraft(store: SessionStore, draft: Draft): Promise<void> {
  const { loaded } = store.getState();
  if (!loaded) return;
  const { character } = loaded;
  const { id, content } = draft;
  if (content.kind === "sculpt") takeUpSculpt(store, character, id, content);
  else if (content.kind === "weights") takeUpWeights(store, character, id, content);
  else if (content.kind === "mask") takeUpMask(store, character, id, content);
  else if (content.kind === "scan") await takeUpScan(store, id, content);
}

type Content<K extends DraftContent["kind"]> = Extract<DraftContent, { kind: K }>;

function takeUpSculpt(store: SessionStore, character: Character, draft: string, c: Content<"sculpt">): void {
  const part = partFor(character, c.part, c.vertexCount);
  store.setState({ sculpt: null, ...c.view });
  if (c.motion) beginSculpt(store, c.motion, c.editing, part);
  else if (c.purpose) beginShapeSculpt(store, c.purpose, part);
  const { sculpt } = store.getState();
  if (!sculpt || sculpt.sketch.part !== part)
    throw new UserError("The sculpt's part is another now.", "", "It is kept.");
  sculpt.sketch.deltas.set(c.deltas);
  sculpt.sketch.began.set(c.began);
  for (const v of c.ill) sculpt.sketch.ill.add(v);
  store.setState({
    sculpt: { ...sculpt, name: c.name, undo: c.undo, redo: c.redo, version: 1, draft },
    ...(c.motion ? { framing: `joint ${c.motion.joint}`, camera: null } : {}),
  });
}

function takeUpWeights(store: SessionStore, character: Character, draft: string, c: Content<"weights">): void {
  partFor(character, c.part, c.vertexCount);
  const names = character.skeleton?.joints.map((j) => j.name) ?? [];
  if (names.join("\n") !== c.joints.join("\n"))
    throw new UserError(
      "The skeleton has other joints than when these weights were painted.",
      "",
      "Undo to where it had them, and go on there.",
    );
  const of = beginPaint(character, c.part);
  of.dense.set(c.dense);
  store.setState({
    ...c.view,
    paint: { of, tool: c.tool, undo: c.undo, redo: c.redo ?? [], joints: c.painted, version: 1, draft },
    reading: "weights",
    moved: null,
    place: null,
  });
}

function takeUpMask(store: SessionStore, character: Character, draft: string, c: Content<"mask">): void {
  const part = partFor(character, c.part, c.values.length);
  store.setState({
    mask: {
      of: { part, values: c.values.slice(), mirror: mirrorMap(character.parts[part]!.positions) },
      painting: false,
      undo: c.undo,
      redo: c.redo ?? [],
      version: 1,
      draft,
    },
  });
}

async function takeUpScan(store: SessionStore, draft: string, c: Content<"scan">): Promise<void> {
  const heavy = await heavyOf<Pick<ScanState, "mesh" | "tree">>(draft);
  if (!heavy) throw new UserError("The scan itself is not kept any more.", "", "Drop its file again.");
  store.setState({
    scan: {
      ...NO_HISTORY,
      ...c.scan,
      ...heavy,
      positions: placedPositions(heavy.mesh, placeOfScan(c.scan) ?? SAME_PLACE),
      draft,
    },
    pose: {},
    weights: {},
    place: null,
    framing: "face",
    reading: "clay",
  });
}
