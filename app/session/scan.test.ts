import { partOf, shapeOf, tube } from "../../tests/helpers/characters";
import { applyStep } from "~core/ledger/applyStep";
import { encodeIdentity } from "~core/ledger/encodeIdentity";
import { blobsOfStep, stepSchema } from "~core/ledger/steps";
import { applySimilarity } from "~core/math/similarity";
import { buildBvh } from "~core/math/bvh";
import type { Vec3 } from "~core/math/vec3";
import type { Character } from "~core/model/character";
import type { FaceLandmark } from "~core/measure/faceLandmarks";
import type { OpenedScan } from "~core/wrap/openScan";
import { changeScan, leaveOut, movePin, pinAt, rememberPlaces, scanStateOf, standByPlaces, tiesOf } from "./scan";
import { makeSession, type SessionStore } from "./session";
import { newFaceSteps } from "./shapeSteps";
import { START_VIEW } from "./urlState";
import { undoInTool } from "./toolHistory";

/**
 * A flat scan of 40 x 40 cm at z = 0.1 m once it stands, in centimetres in its file, and a curve of five landmarks and
 * two points on it.
 */
const quad = partOf(
  "scan",
  [
    [-20, 80, 10],
    [20, 80, 10],
    [20, 120, 10],
    [-20, 120, 10],
  ],
  [[0, 1, 2, 3]],
);
const landmark = (id: string, curve: FaceLandmark["curve"], x: number, y: number): FaceLandmark => ({
  id,
  curve,
  corners: [0, 1, 2],
  shares: [1, 0, 0],
  place: [x, y, 0.1],
});
const landmarks = [
  ...[0, 1, 2, 3, 4].map((k) => landmark(`upper lip ${k}`, "upper lip", 0.02 * (k - 2), 1)),
  landmark("nose tip", "nose", 0, 1.05),
  landmark("chin point", "chin", 0, 0.93),
];
const place = { scale: 0.01, rotation: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1), offset: [0, 0, 0] as const };
const opened: OpenedScan = {
  name: "head",
  mesh: quad,
  vertices: 4,
  tree: buildBvh(Uint32Array.of(0, 1, 2, 0, 2, 3), quad.positions),
  same: null,
  landmarks,
  placed: { place, medianMm: 1 },
  proposed: landmarks.map((l) => (l.id === "chin point" ? null : (l.place.map((x) => 100 * x) as unknown as Vec3))),
};
const begun = (): SessionStore => {
  const store = makeSession(START_VIEW);
  store.setState({ scan: scanStateOf(opened) });
  return store;
};
const at = (store: SessionStore, id: string): number[] | null =>
  pinAt(store.getState().scan!, id)?.map((x) => Number(x.toFixed(5))) ?? null;
const handMade = (store: SessionStore): string[] =>
  [...store.getState().scan!.places]
    .filter(([, p]) => p.byHand)
    .map(([id]) => id)
    .sort();

describe("landmarks on a scan", () => {
  it("stand where they were proposed, in the figure's place; those without a place are no ties", () => {
    const store = begun();
    expect(at(store, "nose tip")).toEqual([0, 1.05, 0.1]);
    expect(at(store, "chin point")).toBeNull();
    expect(tiesOf(store.getState().scan!).map((t) => t.landmark.id)).toEqual(landmarks.slice(0, -1).map((l) => l.id));
    expect(store.getState().scan!.view).toBe("scan");
  });
  it("are moved one by one, which makes them set by hand and the laid skin out of date", () => {
    const store = begun();
    changeScan(store, {
      laid: {
        deltas: [],
        medianMm: 0,
        p95Mm: 0,
        largestMm: 0,
        tiesMm: [],
        off: { vertices: new Uint32Array(0), mm: new Float32Array(0) },
      },
    });
    movePin(store, "upper lip 2", [0.01, 1.02, 0.1]);
    expect(at(store, "upper lip 2")).toEqual([0.01, 1.02, 0.1]);
    expect(at(store, "upper lip 1")).toEqual([-0.02, 1, 0.1]);
    expect(handMade(store)).toEqual(["upper lip 2"]);
    expect(store.getState().scan!.laid).toBeNull();
  });
  it("take their curve along, less the farther away, and stay on the surface", () => {
    const store = begun();
    changeScan(store, { moves: "curve" });
    movePin(store, "upper lip 2", [0, 1.04, 0.1]);
    const heights = [0, 1, 2, 3, 4].map((k) => at(store, `upper lip ${k}`)![1]!);
    expect(heights[2]).toBe(1.04);
    for (const [near, far] of [
      [1, 0],
      [3, 4],
    ] as const) {
      expect(heights[near]).toBeGreaterThan(heights[far]!);
      expect(heights[far]).toBeGreaterThan(1);
    }
    for (let k = 0; k < 5; k++) expect(at(store, `upper lip ${k}`)![2]).toBeCloseTo(0.1, 6);
    expect(at(store, "nose tip")).toEqual([0, 1.05, 0.1]);
  });
  it("go back step by step, and can be left out and set again", () => {
    const store = begun();
    rememberPlaces(store);
    movePin(store, "nose tip", [0.03, 1.05, 0.1]);
    leaveOut(store, "upper lip 0");
    expect(at(store, "upper lip 0")).toBeNull();
    undoInTool(store, "scan");
    expect(at(store, "upper lip 0")).toEqual([-0.04, 1, 0.1]);
    undoInTool(store, "scan");
    expect(at(store, "nose tip")).toEqual([0, 1.05, 0.1]);
    undoInTool(store, "scan");
    movePin(store, "chin point", [0, 0.9, 0.1]);
    expect(at(store, "chin point")).toEqual([0, 0.9, 0.1]);
  });
  it("stand the scan: by those set by hand once there are three, at a fitted size or the one it has", () => {
    const store = begun();
    // the same places on a scan half as large and shifted: three set by hand
    for (const [id, to] of [
      ["upper lip 0", [-0.02, 0.99, 0.1]],
      ["upper lip 4", [0.02, 0.99, 0.1]],
      ["nose tip", [0, 1.015, 0.1]],
    ] as const)
      movePin(store, id, to);
    expect(standByPlaces(store, true)).toBeNull();
    const own = (id: string): Vec3 => landmarks.find((l) => l.id === id)!.place;
    for (const id of ["upper lip 0", "upper lip 4", "nose tip"])
      at(store, id)!.forEach((x, c) => expect(x).toBeCloseTo(own(id)[c]!, 5));
    const { scan } = store.getState();
    expect(scan!.placed!.place.scale).toBeCloseTo(0.02, 9);
    // the surface goes along with its landmarks
    expect(scan!.positions[0]).toBeCloseTo(applySimilarity(scan!.placed!.place, -20, 80, 10)[0], 6);
    expect(standByPlaces(store, false)).toBeNull();
    expect(store.getState().scan!.placed!.place.scale).toBeCloseTo(0.02, 9);
  });
  it("are too few below three", () => {
    const store = makeSession(START_VIEW);
    store.setState({ scan: scanStateOf({ ...opened, proposed: landmarks.map(() => null) }) });
    movePin(store, "nose tip", [0, 1, 0.1]);
    movePin(store, "chin point", [0, 0.9, 0.1]);
    expect(standByPlaces(store, true)).toMatch(/Three landmarks at least/);
    expect(store.getState().scan!.placed!.place).toBe(place);
  });
  it("change nothing without a scan", () => {
    const store = makeSession(START_VIEW);
    movePin(store, "nose tip", [0, 0, 0]);
    leaveOut(store, "nose tip");
    rememberPlaces(store);
    undoInTool(store, "scan");
    expect(standByPlaces(store, true)).toBeNull();
    expect(store.getState().scan).toBeNull();
  });
});

describe("the steps that take a face on", () => {
  const limb = tube();
  const character: Character = {
    ...limb,
    shapes: [shapeOf("bulge", { 10: [0.01, 0, 0] }), shapeOf("dent", { 20: [0, 0, 0.02] })],
  };
  const deltas = [{ part: 0, vertices: Uint32Array.of(5, 6), deltas: Float32Array.of(0, 0.1, 0, 0, 0.2, 0) }];
  const face = {
    deltas,
    jointOffsets: [{ joint: "lower", offset: [0, 0.05, 0] as const }],
    shapes: [
      { name: "bulge", deltas: [{ part: 0, vertices: Uint32Array.of(10), deltas: Float32Array.of(0.03, 0, 0) }] },
    ],
  };
  const taken = (c: Character, steps: Awaited<ReturnType<typeof newFaceSteps>>): Character =>
    steps.reduce((now, { step, blobs }) => {
      const parsed = stepSchema.parse(step);
      const hashes = blobsOfStep(parsed);
      expect(hashes.length).toBe(blobs.length);
      return applyStep(now, parsed, (h) => blobs[hashes.indexOf(h)]);
    }, c);
  it("move base and joints, give the carried shapes their new movement, and leave the others", async () => {
    const steps = await newFaceSteps(encodeIdentity(character, face), "head");
    expect(steps).toHaveLength(1);
    const now = taken(character, steps);
    expect(now.parts[0]!.positions[3 * 6 + 1]! - character.parts[0]!.positions[3 * 6 + 1]!).toBeCloseTo(0.2, 6);
    expect(now.shapes.map((s) => s.name)).toEqual(["bulge", "dent"]);
    expect(now.shapes[0]!.deltas[0]!.deltas[0]).toBeCloseTo(0.03, 6);
    expect(now.shapes[1]!.deltas).toEqual(character.shapes[1]!.deltas);
    const joint = (c: Character): number => c.skeleton!.joints.find((j) => j.name === "lower")!.translation[1]!;
    expect(joint(now) - joint(character)).toBeCloseTo(0.05, 6);
  });
  it("are several where one could not hold all", async () => {
    const { base, jointOffsets, shapes } = encodeIdentity(character, face);
    const heavy = {
      base,
      jointOffsets,
      shapes: [0, 1, 2].map(() => ({ name: shapes[0]!.name, bytes: new Uint8Array(10_000_000) })),
    };
    const steps = await newFaceSteps(heavy, "head");
    expect(steps.map((s) => s.step.op)).toEqual(["new face", "edit shapes"]);
    expect(steps.map((s) => s.blobs.length)).toEqual([3, 1]);
  });
});
