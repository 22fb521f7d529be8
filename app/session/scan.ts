import { fadeOut } from "~core/math/smoothStep";
import { applySimilarity, SAME_PLACE, type Similarity } from "~core/math/similarity";
import type { Vec3 } from "~core/math/vec3";
import { closestPoint, refitBvh, type Bvh } from "~core/math/bvh";
import type { SkinTie } from "~core/transfer/layOn";
import type { FaceLandmark } from "~core/measure/faceLandmarks";
import type { LaidOnScan } from "~core/wrap/layOnScan";
import type { OpenedScan } from "~core/wrap/openScan";
import { backTo, placeByPairs, placedPositions } from "~core/wrap/placeScan";
import { NO_HISTORY, remembered, type History } from "./history";
import { type SessionStore } from "./session";
import { newDraft } from "./slices/tools";

export const SCAN_VIEWS = ["figure", "scan", "both", "laid on"] as const;
export type ScanView = (typeof SCAN_VIEWS)[number];
export const PIN_MOVES = ["point", "curve"] as const;
export type PinMoves = (typeof PIN_MOVES)[number];

/** Where a landmark is on the scan, in the scan's own coordinates. */
export interface ScanPlace {
  readonly at: Vec3;
  readonly byHand: boolean;
}
export type ScanPlaces = ReadonlyMap<string, ScanPlace>;

/** A scan that the character's skin is to be laid on. */
export interface ScanState
  extends
    Pick<OpenedScan, "name" | "mesh" | "tree" | "vertices" | "same" | "landmarks" | "placed">,
    History<ScanPlaces> {
  /** The scan's vertices in the character's place, metres. */
  readonly positions: Float32Array;
  readonly places: ScanPlaces;
  readonly chosen: string | null;
  readonly moves: PinMoves;
  readonly view: ScanView;
  readonly laid: LaidOnScan | null;
  /** The file it came from, to be read again at another size. */
  readonly file: File | null;
  /** Under which it is kept in the browser while it is worked on. */
  readonly draft: string;
}

/** How many points of a curve go along on either side of the one that is moved. */
const ALONG = 3;
/** Where the scan stands, as the way from its own coordinates to the character's. */
export const placeOfScan = (s: Pick<ScanState, "placed">): Similarity => s.placed?.place ?? SAME_PLACE;
const placeOf = placeOfScan;

export function scanStateOf(opened: OpenedScan, file: File | null = null): ScanState {
  const places = new Map(
    opened.landmarks.flatMap((l, i): [string, ScanPlace][] =>
      opened.proposed[i] ? [[l.id, { at: opened.proposed[i]!, byHand: false }]] : [],
    ),
  );
  return {
    ...opened,
    positions: placedPositions(opened.mesh, placeOf(opened)),
    places,
    ...NO_HISTORY,
    chosen: null,
    moves: "point",
    view: opened.same ? "both" : "scan",
    laid: null,
    file,
    draft: newDraft(),
  };
}

const trees = new WeakMap<Float32Array, Bvh>();
/** The placed scan's tree, refitted once for each place. */
export function scanTree({ tree, positions }: Pick<ScanState, "tree" | "positions">): Bvh {
  const known = trees.get(positions);
  if (known) return known;
  const placed: Bvh = { ...tree, bounds: tree.bounds.slice() };
  refitBvh(placed, positions);
  trees.set(positions, placed);
  return placed;
}

/** Where a landmark stands on the placed scan, metres; null where it has no place. */
export function pinAt(s: ScanState, id: string): Vec3 | null {
  const place = s.places.get(id);
  return place ? applySimilarity(placeOf(s), ...place.at) : null;
}

/** The landmarks that have a place, as ties of the skin. */
export const tiesOf = (s: ScanState): { landmark: FaceLandmark; tie: SkinTie }[] =>
  s.landmarks.flatMap((landmark) => {
    const to = pinAt(s, landmark.id);
    return to ? [{ landmark, tie: { corners: landmark.corners, shares: landmark.shares, to } }] : [];
  });

/** Begins laying the skin on a scan: it is looked at bare, at rest, face first. */
export const openScan = (store: SessionStore, scan: ScanState): void =>
  store.setState({
    scan,
    pose: {},
    weights: {},
    place: null,
    camera: null,
    framing: "face",
    reading: "clay",
    moved: null,
  });

export function changeScan(store: SessionStore, change: Partial<ScanState>): void {
  const { scan } = store.getState();
  if (scan) store.setState({ scan: { ...scan, ...change } });
}

const onSurface = (s: ScanState, p: Vec3): Vec3 => {
  const c = closestPoint(scanTree(s), s.positions, ...p);
  return c.triangle < 0 ? p : [c.x, c.y, c.z];
};

/** Remembers the places as they are, so that the change that follows can be taken back. */
export const rememberPlaces = (store: SessionStore): void => {
  const { scan } = store.getState();
  if (scan) changeScan(store, remembered(scan, scan.places));
};
/**
 * Puts a landmark on the placed scan; with curves moving, its neighbours on the curve go along, less the farther they
 * are.
 */
export function movePin(store: SessionStore, id: string, to: Vec3): void {
  const { scan } = store.getState();
  const landmark = scan?.landmarks.find((l) => l.id === id);
  if (!scan || !landmark) return;
  const places = new Map(scan.places);
  const before = pinAt(scan, id);
  const put = (one: string, p: Vec3): void => void places.set(one, { at: backTo(placeOf(scan), p), byHand: true });
  if (scan.moves === "curve" && before) {
    const curve = scan.landmarks.filter((l) => l.curve === landmark.curve);
    const own = curve.indexOf(landmark);
    curve.forEach((l, i) => {
      const share = l === landmark ? 0 : fadeOut(Math.abs(i - own) / (ALONG + 1));
      const at = share > 0 ? pinAt(scan, l.id) : null;
      if (at)
        put(l.id, onSurface(scan, [0, 1, 2].map((c) => at[c]! + share * (to[c]! - before[c]!)) as unknown as Vec3));
    });
  }
  put(id, to);
  store.setState({ scan: { ...scan, places, laid: null } });
}

export function leaveOut(store: SessionStore, id: string): void {
  const { scan } = store.getState();
  if (!scan) return;
  const places = new Map(scan.places);
  places.delete(id);
  changeScan(store, { ...remembered(scan, scan.places), places, laid: null });
}

/** Brings the scan to the character by the places set by hand, or by all of them. @returns why it cannot be done. */
export function standByPlaces(store: SessionStore, fitSize: boolean): string | null {
  const { scan } = store.getState();
  if (!scan) return null;
  const set = scan.landmarks.filter((l) => scan.places.has(l.id));
  const byHand = set.filter((l) => scan.places.get(l.id)!.byHand);
  const used = byHand.length >= 3 ? byHand : set;
  if (used.length < 3)
    return "Three landmarks at least must be set on the scan: choose one in the list and click where it is.";
  const scale = fitSize ? undefined : placeOf(scan).scale;
  const place = placeByPairs(
    used.map((l) => ({ scan: scan.places.get(l.id)!.at, own: l.place })),
    scale,
  );
  changeScan(store, {
    placed: { place, medianMm: scan.placed?.medianMm ?? 0 },
    positions: placedPositions(scan.mesh, place),
    laid: null,
  });
  return null;
}
