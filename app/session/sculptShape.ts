import { sketchDeltas, startSketch } from "~core/correctives/sketch";
import { shapeDriverWeight, withDrivenWeights } from "~core/evaluate/drivers/driverWeight";
import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { ShapeItem } from "~core/ledger/steps";
import { shapeNamed, type Character, type ShapeDelta } from "~core/model/character";
import { mixShapes } from "~core/shapes/mixShapes";
import { carryMovement, carrySurface } from "~core/surface/carryMovement";
import { UserError } from "~core/model/userError";
import { hashOf, type StepWithBlobs } from "./ledgerClient";
import { type Loaded, type Session, type SessionStore } from "./session";
import { newDraft, type SculptState } from "./slices/tools";
import { NO_HISTORY } from "./history";

/** What a sculpt at the shapes' station becomes. */
export type SculptPurpose =
  | { readonly kind: "new shape" }
  | { readonly kind: "edit"; readonly shape: string }
  | { readonly kind: "in-between"; readonly of: string; readonly peak: number }
  | { readonly kind: "combination"; readonly of: readonly string[] };

/** Parts that are carried along with the skin when asked: what sits on the face. */
const FOLLOWING = new Set(["lash", "tear line", "brow"]);

/** A shape that acts by less cannot be sculpted: the sculpt would become far too large at full. */
const LEAST_WEIGHT = 0.1;

/** What a sculpt is of, in words; null for a new shape. */
export function purposeWords(purpose: SculptPurpose): string | null {
  switch (purpose.kind) {
    case "edit":
      return purpose.shape;
    case "in-between":
      return `an in-between of ${purpose.of}`;
    case "combination":
      return purpose.of.join(" with ");
    default:
      return null;
  }
}

/** What the weights on the stage allow a sculpt to become; the first is what one most likely wants. */
export function purposesFor(character: Character, weights: Session["weights"]): SculptPurpose[] {
  const set = Object.entries(weights).filter(
    ([name, w]) => w > 0 && shapeNamed(character, name) && !character.shapeDrivers.some((d) => d.shape === name),
  );
  // combinations and in-betweens that act in this mix can be sculpted again in it
  const acting = withDrivenWeights(character, new Map(Object.entries(weights)));
  const driven = character.shapeDrivers
    .filter((d) => (acting.get(d.shape) ?? 0) >= LEAST_WEIGHT)
    .map((d): SculptPurpose => ({ kind: "edit", shape: d.shape }));
  const edits = [...driven, ...set.map(([shape]): SculptPurpose => ({ kind: "edit", shape }))];
  if (driven.length) return [...edits, { kind: "new shape" }];
  if (set.length === 1 && set[0]![1] < 1)
    return [{ kind: "in-between", of: set[0]![0], peak: set[0]![1] }, { kind: "new shape" }, ...edits];
  if (set.length === 1) return [...edits, { kind: "new shape" }];
  if (set.length >= 2 && set.length <= 4)
    return [{ kind: "combination", of: set.map(([n]) => n) }, { kind: "new shape" }, ...edits];
  return [{ kind: "new shape" }, ...edits];
}

/** Begins sculpting on a part, over the mix and pose that stand on the stage. */
export function beginShapeSculpt(store: SessionStore, purpose: SculptPurpose, part: number): void {
  const s = store.getState();
  if (!s.loaded || !s.loaded.character.parts[part]) throw new UserError("There is no part to sculpt on.", "", "");
  const { character } = s.loaded;
  let { rig } = s.loaded;
  let start: ShapeDelta | null = null;
  let weight = 1;
  if (purpose.kind === "edit") {
    const shape = shapeNamed(character, purpose.shape);
    weight = withDrivenWeights(character, new Map(Object.entries(s.weights))).get(purpose.shape) ?? 0;
    if (!shape || weight < LEAST_WEIGHT)
      throw new UserError(`${purpose.shape} hardly acts on the stage.`, "", "Set its weight to 0.1 or more first.");
    start = shape.deltas.find((d) => d.part === part) ?? null;
    // what is being sculpted comes from the sketch alone
    rig = {
      ...rig,
      character: {
        ...character,
        shapes: character.shapes.map((x) =>
          x === shape ? { ...x, deltas: x.deltas.filter((d) => d.part !== part) } : x,
        ),
      },
    };
  }
  if (purpose.kind === "combination")
    weight = shapeDriverWeight(
      { rule: "product", enabled: true },
      purpose.of.map((n) => s.weights[n] ?? 0),
    );
  if (weight < 0.1)
    throw new UserError(
      "Where so little of the shapes is set, a sculpt would become far too large at full.",
      "",
      "Set their weights higher first.",
    );
  store.setState({
    dressed: character.parts[part]!.kind === "garment" && s.dressed,
    sculpt: {
      sketch: startSketch(rig, part, start, weight),
      editing: null,
      joint: "",
      motion: null,
      purpose,
      ...NO_HISTORY,
      version: 0,
      name: null,
      draft: newDraft(),
      wasDressed: s.dressed,
    },
  });
}

/** The skin's movement with what sits on it carried along. @param change of the skin: what was sculpted. */
function withFollowers(character: Character, deltas: readonly ShapeDelta[], change: ShapeDelta): ShapeDelta[] {
  if (character.parts[change.part]!.kind !== "body") return [...deltas];
  const surface = carrySurface(character.parts[change.part]!);
  const carried = character.parts.flatMap((p, i) =>
    FOLLOWING.has(p.kind) ? (carryMovement(character, i, change, surface) ?? []) : [],
  );
  return mixShapes([
    [{ deltas }, 1],
    [{ deltas: carried }, 1],
  ]);
}

/** The step that keeps the sculpt on the stage. @param follow whether lashes, tear lines and brows go along. */
export async function shapeSketchStep(
  s: Session & { loaded: Loaded; sculpt: SculptState & { purpose: SculptPurpose } },
  name: string,
  follow: boolean,
): Promise<StepWithBlobs> {
  const { sketch, purpose } = s.sculpt;
  const { character } = s.loaded;
  const own = sketchDeltas(sketch);
  if (purpose.kind === "edit") {
    const shape = shapeNamed(character, purpose.shape)!;
    const before = shape.deltas.find((d) => d.part === sketch.part);
    const change =
      mixShapes([
        [{ deltas: [own] }, 1],
        [{ deltas: before ? [before] : [] }, -1],
      ])[0] ?? own;
    const rest = shape.deltas.filter((d) => d.part !== sketch.part);
    const bytes = encodeDeltas(
      character,
      follow ? withFollowers(character, [...rest, own], change) : [...rest, own].sort((a, b) => a.part - b.part),
    );
    return { step: { op: "edit shapes", items: [{ name: shape.name, blob: await hashOf(bytes) }] }, blobs: [bytes] };
  }
  if (own.vertices.length === 0)
    throw new UserError("Nothing was sculpted yet.", "", "Stroke over the skin on the stage first.");
  const bytes = encodeDeltas(character, follow ? withFollowers(character, [own], own) : [own]);
  const driver: ShapeItem["driver"] =
    purpose.kind === "combination"
      ? { of: [...purpose.of], rule: "product", enabled: true }
      : purpose.kind === "in-between"
        ? { of: [purpose.of], rule: "in-between", span: { from: 0, peak: purpose.peak, to: 1 }, enabled: true }
        : undefined;
  return {
    step: {
      op: "add shapes",
      source: "sculpting",
      items: [{ name, label: name, blob: await hashOf(bytes), ...(driver ? { driver } : {}) }],
    },
    blobs: [bytes],
  };
}
