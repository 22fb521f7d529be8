import { SEVERITIES, type Finding, type Severity } from "~core/checks/finding";
import { eyeFrame, shapePlace, SHAPE_REGIONS, type ShapePlace, type ShapeRegion } from "~core/measure/shapeRegion";
import type { ShapeReading } from "~core/measure/measureShapes";
import type { Moment } from "~core/evaluate/moment";
import type { Character, Shape } from "~core/model/character";
import { namesRead } from "~core/model/terms/driverTerms";
import type { Loaded } from "../../session/session";
import { fullMoment } from "~core/evaluate/drivers/fullMoment";

/** A shape with where it acts, what it measures and its worst open finding. */
export interface ShapeRow extends ShapePlace {
  readonly shape: Shape;
  readonly reading: ShapeReading | null;
  readonly worst: Severity | null;
  readonly findings: readonly Finding[];
}

const known = new WeakMap<Loaded, (shape: number) => ShapePlace>();

/** Where each shape acts, read once for each state and when it is first asked for: its movement is gone through. */
function placesOf(loaded: Loaded): (shape: number) => ShapePlace {
  const before = known.get(loaded);
  if (before) return before;
  const { character, humanoid } = loaded;
  const eyes = eyeFrame(character, humanoid);
  const places: ShapePlace[] = [];
  const placeOf = (i: number): ShapePlace => (places[i] ??= shapePlace(character, character.shapes[i]!, eyes));
  known.set(loaded, placeOf);
  return placeOf;
}

export function shapeRows(
  loaded: Loaded,
  readings: readonly ShapeReading[] | null,
  findings: readonly Finding[],
): ShapeRow[] {
  const placeOf = placesOf(loaded);
  const bySeverity = (f: readonly Finding[]): Severity | null =>
    SEVERITIES.find((s) => f.some((x) => x.severity === s)) ?? null;
  return loaded.character.shapes.map((shape, i) => {
    const own = findings.filter((f) => f.shape === shape.name);
    return {
      shape,
      get region() {
        return placeOf(i).region;
      },
      get side() {
        return placeOf(i).side;
      },
      reading: readings?.find((r) => r.shape === shape.name) ?? null,
      worst: bySeverity(own),
      findings: own,
    };
  });
}

/** What sets the weight of a driven shape, in words; "" for one set by hand. */
export function drivenBy(character: Character, shape: string): string {
  const driver = character.drivers.find((d) => d.shape === shape);
  if (driver) return `driven by ${driver.joint}`;
  const read = character.poseDrivers?.find((d) => d.shape === shape);
  if (read) return `driven by ${namesRead(read.terms).join(" and ")}`;
  const set = character.sampleSets?.find((s) => s.samples.some((x) => x.shape === shape));
  if (set) return `a pose of ${set.name}`;
  const mixed = character.shapeDrivers.find((d) => d.shape === shape);
  if (!mixed) return "";
  const names = mixed.of.join(" and ");
  if (mixed.rule === "in-between") return `in-between of ${names}, full at ${mixed.span?.peak ?? 0.5}`;
  return `combination of ${names} (${mixed.rule})`;
}

const rank = (row: ShapeRow): number => (row.worst ? SEVERITIES.indexOf(row.worst) : SEVERITIES.length);
export const SORTS = {
  worst: (a: ShapeRow, b: ShapeRow): number =>
    rank(a) - rank(b) || (b.reading?.stretch ?? 0) - (a.reading?.stretch ?? 0),
  region: (a: ShapeRow, b: ShapeRow): number =>
    SHAPE_REGIONS.indexOf(a.region) - SHAPE_REGIONS.indexOf(b.region) ||
    a.shape.name.localeCompare(b.shape.name, "en", { numeric: true }),
  name: (a: ShapeRow, b: ShapeRow): number => a.shape.name.localeCompare(b.shape.name, "en", { numeric: true }),
} as const;
export type Sort = keyof typeof SORTS;

/** What the camera frames for a region; the face for all others. */
const FRAMING_OF: Partial<Record<ShapeRegion, string>> = {
  brows: "eyes",
  lids: "eyes",
  gaze: "eyes",
  lips: "mouth",
  tongue: "mouth",
  neck: "bust",
  body: "whole",
};

/** How a shape is shown alone: at full or at another weight, a corrective in the pose it belongs to. */
export function soloView(
  character: Character,
  row: ShapeRow,
  weight = 1,
): { moment: Pick<Moment, "pose" | "weights">; framing: string } {
  const full = fullMoment(character, row.shape.name);
  const [joint] = Object.keys(full?.pose ?? {});
  if (full) return { moment: full, framing: joint ? `joint ${joint}` : "face" };
  const mixed = character.shapeDrivers.find((d) => d.shape === row.shape.name);
  if (mixed)
    return {
      moment: {
        pose: {},
        weights: Object.fromEntries(
          mixed.of.map((name) => [name, mixed.rule === "in-between" ? (mixed.span?.peak ?? 0.5) : weight]),
        ),
      },
      framing: "face",
    };
  const framing = FRAMING_OF[row.region] ?? "face";
  return { moment: { pose: {}, weights: { [row.shape.name]: weight } }, framing };
}
