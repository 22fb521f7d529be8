import { dabSketch, deformSketch, revertStroke } from "~core/correctives/sketch";
import { applyStep } from "~core/ledger/applyStep";
import { stepSchema } from "~core/ledger/steps";
import type { Character } from "~core/model/character";
import { characterWith, boxPart, shapeOf, tube } from "../../tests/helpers/characters";
import { plannedShapes, type DeriveChoice } from "../stations/shapes/make/plannedShapes";
import { knownRun, planPairs } from "./pairReadings";
import { beginShapeSculpt, purposesFor, shapeSketchStep, type SculptPurpose } from "./sculptShape";
import { makeLoaded, makeSession, momentOf, type Session } from "./session";
import { shapeSteps } from "./shapeSteps";
import { START_VIEW } from "./urlState";

const limb = tube();
const lash = boxPart("lash", [0.002, 0.002, 0.002], [0.052, 0.3, 0], "lash");
const smile = shapeOf("smile", { 384: [0.01, 0, 0], 385: [0.004, 0, 0] });
const pout = shapeOf("pout", { 400: [0, 0, 0.01] });
const character: Character = { ...limb, parts: [limb.parts[0]!, lash], shapes: [smile, pout] };
const blobsOf = (blobs: readonly Uint8Array[]) => (): Uint8Array => blobs[0]!;
const moveOf = (c: Character, shape: string, part: number, v: number): number[] => {
  const d = c.shapes.find((s) => s.name === shape)!.deltas.find((x) => x.part === part);
  const k = d ? d.vertices.indexOf(v) : -1;
  return k < 0 ? [0, 0, 0] : Array.from(d!.deltas.subarray(3 * k, 3 * k + 3), (x) => Number(x.toFixed(5)));
};

/** Sculpts with one dab round vertex 384 and keeps it. */
async function sculpted(
  weights: Record<string, number>,
  purpose: SculptPurpose,
  follow: boolean,
): Promise<{ after: Character; step: ReturnType<typeof stepSchema.parse>; posedMove: number }> {
  const store = makeSession({ ...START_VIEW, weights });
  const loaded = makeLoaded(character, "state", null);
  store.setState({ loaded });
  beginShapeSculpt(store, purpose, 0);
  const { sculpt } = store.getState();
  const moment = momentOf(store.getState());
  const before = deformSketch(sculpt!.sketch, moment);
  const at = [0, 1, 2].map((c) => before.positions[0]![3 * 384 + c]!) as [number, number, number];
  const start = before.positions[0]!.slice();
  dabSketch(
    sculpt!.sketch,
    moment,
    before,
    { tool: "inflate", centre: at, radius: 0.03, strength: 1, fallOff: "even", drag: [0, 0, 0] },
    new Float32Array(limb.parts[0]!.positions.length / 3).fill(1),
    false,
    new Map(),
  );
  const now = deformSketch(sculpt!.sketch, moment).positions[0]!;
  const { step, blobs } = await shapeSketchStep(
    { ...store.getState(), loaded, sculpt: { ...sculpt!, purpose } } as Session & {
      loaded: typeof loaded;
      sculpt: NonNullable<typeof sculpt> & { purpose: SculptPurpose };
    },
    "made",
    follow,
  );
  const parsed = stepSchema.parse(step);
  return {
    after: applyStep(character, parsed, blobsOf(blobs)),
    step: parsed,
    posedMove: Math.hypot(...[0, 1, 2].map((c) => now[3 * 384 + c]! - start[3 * 384 + c]!)),
  };
}

describe("what a sculpt may become", () => {
  const kinds = (weights: Record<string, number>): string[] =>
    purposesFor(character, weights).map((p) => (p.kind === "edit" ? `edit ${p.shape}` : p.kind));
  it("follows from the weights on the stage, the likeliest first", () => {
    expect(kinds({})).toEqual(["new shape"]);
    expect(kinds({ smile: 1 })).toEqual(["edit smile", "new shape"]);
    expect(kinds({ smile: 0.4 })).toEqual(["in-between", "new shape", "edit smile"]);
    expect(kinds({ smile: 1, pout: 0.8 })).toEqual(["combination", "new shape", "edit smile", "edit pout"]);
    expect(kinds({ gone: 1 })).toEqual(["new shape"]);
  });
});

describe("sculpting a shape", () => {
  it(
    "at rest makes a new one that moves as it was sculpted, " + "and what sits on the skin goes along when asked",
    async () => {
      const { after, posedMove } = await sculpted({}, { kind: "new shape" }, true);
      expect(posedMove).toBeGreaterThan(0.001);
      expect(Math.hypot(...moveOf(after, "made", 0, 384))).toBeCloseTo(posedMove, 4);
      expect(after.shapes.at(-1)!.deltas.map((d) => d.part)).toEqual([0, 1]);
      expect((await sculpted({}, { kind: "new shape" }, false)).after.shapes.at(-1)!.deltas.map((d) => d.part)).toEqual(
        [0],
      );
    },
  );
  it("again at half weight changes it twice as much at full", async () => {
    const { after, posedMove } = await sculpted({ smile: 0.5 }, { kind: "edit", shape: "smile" }, false);
    const moved = moveOf(after, "smile", 0, 384);
    expect(moved[0]! - 0.01).toBeCloseTo(2 * posedMove, 3);
    expect(after.shapes.map((s) => s.name)).toEqual(["smile", "pout"]);
  });
  it("over two shapes makes a combination by their product", async () => {
    const { after, posedMove } = await sculpted(
      { smile: 1, pout: 0.5 },
      { kind: "combination", of: ["smile", "pout"] },
      false,
    );
    expect(after.shapeDrivers).toEqual([{ shape: "made", of: ["smile", "pout"], rule: "product", enabled: true }]);
    expect(Math.hypot(...moveOf(after, "made", 0, 384))).toBeCloseTo(2 * posedMove, 3);
  });
  it("below full makes an in-between that peaks there", async () => {
    const { step } = await sculpted({ smile: 0.4 }, { kind: "in-between", of: "smile", peak: 0.4 }, false);
    expect(step).toMatchObject({
      op: "add shapes",
      items: [{ driver: { of: ["smile"], rule: "in-between", span: { from: 0, peak: 0.4, to: 1 } } }],
    });
  });
  it("is refused where the shape hardly acts", () => {
    const store = makeSession({ ...START_VIEW, weights: { smile: 0.05 } });
    expect(() => beginShapeSculpt(store, { kind: "new shape" }, 0)).toThrow(/no part/);
    store.setState({ loaded: makeLoaded(character, "state", null) });
    expect(() => beginShapeSculpt(store, { kind: "edit", shape: "smile" }, 0)).toThrow(/hardly acts/);
    expect(() => beginShapeSculpt(store, { kind: "combination", of: ["smile", "pout"] }, 0)).toThrow(/far too large/);
  });
});

describe("giving a sculpt back", () => {
  it("takes it towards what it was when sculpting began, and a stroke of it can be undone", () => {
    const store = makeSession({ ...START_VIEW, weights: { smile: 1 } });
    store.setState({ loaded: makeLoaded(character, "state", null) });
    beginShapeSculpt(store, { kind: "edit", shape: "smile" }, 0);
    const { sketch } = store.getState().sculpt!;
    const moment = momentOf(store.getState());
    const all = new Float32Array(limb.parts[0]!.positions.length / 3).fill(1);
    const brush = (
      tool: "inflate" | "give back",
      strength: number,
      record = new Map<number, readonly [number, number, number]>(),
    ): typeof record => {
      const shown = deformSketch(sketch, moment);
      dabSketch(
        sketch,
        moment,
        shown,
        {
          tool,
          centre: [0, 1, 2].map((c) => shown.positions[0]![3 * 384 + c]!) as unknown as [number, number, number],
          radius: 0.03,
          strength,
          fallOff: "even",
          drag: [0, 0, 0],
        },
        all,
        false,
        record,
      );
      return record;
    };
    const began = sketch.deltas.slice();
    brush("inflate", 1);
    const sculpted = sketch.deltas.slice();
    const record = brush("give back", 0.5);
    expect(sketch.deltas[3 * 384]! - began[3 * 384]!).toBeCloseTo(0.5 * (sculpted[3 * 384]! - began[3 * 384]!), 6);
    revertStroke(sketch, record);
    expect([...sketch.deltas]).toEqual([...sculpted]);
    brush("give back", 1);
    expect(sketch.deltas[3 * 384]).toBeCloseTo(began[3 * 384]!, 7);
  });
});

describe("planned shapes", () => {
  const choice: DeriveChoice = { way: "mix", of: null, seamMm: 10, part: "limb", name: "", weights: {} };
  const names = (c: Partial<DeriveChoice>): string[] =>
    plannedShapes(character, { ...choice, ...c }).items.map((i) => i.name);
  it("are named before they are made", () => {
    expect(names({})).toEqual([]);
    expect(names({ weights: { smile: 0.5 } })).toEqual(["smile_at_0.5"]);
    expect(names({ weights: { smile: 0.5, pout: 1 }, name: "smirk" })).toEqual(["smirk"]);
    expect(names({ way: "mirror", of: "smile" })).toEqual(["smile mirrored"]);
    expect(names({ way: "sides", of: "smile" })).toEqual(["smile_left", "smile_right"]);
    expect(names({ way: "parts", of: "smile" })).toEqual(["smile_limb"]);
  });
  it("hold what the mix drives, and less a shape are the difference to it", () => {
    const driven: Character = {
      ...character,
      shapes: [...character.shapes, shapeOf("crease", { 3: [0, 0.001, 0] })],
      shapeDrivers: [{ shape: "crease", of: ["smile", "pout"], rule: "product", enabled: true }],
    };
    const plan = (weights: Record<string, number>, less: string | null = null): ReturnType<typeof plannedShapes> =>
      plannedShapes(driven, { ...choice, weights, less });
    expect(plan({ smile: 1, pout: 0.5 }).items[0]!.from).toEqual({
      way: "mix",
      of: [
        { shape: "smile", weight: 1 },
        { shape: "pout", weight: 0.5 },
        { shape: "crease", weight: 0.5 },
      ],
    });
    expect(plan({ smile: 1, pout: 0.5 }, "smile").items[0]).toMatchObject({
      name: "mix_less_smile",
      from: {
        of: [
          { shape: "pout", weight: 0.5 },
          { shape: "crease", weight: 0.5 },
        ],
      },
    });
    expect(plan({ smile: 0.25 }, "pout").source).toBe("smile 0.25 − pout 1");
    expect(plan({ smile: 1 }, "smile").items).toEqual([]);
    expect(plan({}, "smile").items).toEqual([]);
  });
  it("say why they cannot be", () =>
    expect(plannedShapes(character, { ...choice, weights: { smile: 1, pout: 1 }, name: "pout" }).refused).toMatch(
      /pout is there already/,
    ));
});

describe("steps for brought movement", () => {
  const deltas = shapeOf("x", { 3: [0, 0.01, 0] }).deltas;
  it("put names beside, with a number, or instead", async () => {
    const [beside] = await shapeSteps(
      character,
      [
        { name: "smile", deltas },
        { name: "new", deltas },
      ],
      false,
      "2 files",
    );
    expect(beside!.step).toMatchObject({
      op: "add shapes",
      source: "2 files",
      items: [{ name: "smile 2" }, { name: "new" }],
    });
    const instead = await shapeSteps(
      character,
      [
        { name: "smile", deltas },
        { name: "new", deltas },
      ],
      true,
      "2 files",
    );
    expect(instead.map((s) => s.step.op)).toEqual(["edit shapes", "add shapes"]);
  });
  it("split what is large into several", async () => {
    const count = 900_000;
    const large = [{ part: 0, vertices: new Uint32Array(count), deltas: new Float32Array(3 * count).fill(0.01) }];
    const steps = await shapeSteps(
      characterWith({ parts: limb.parts }),
      ["a", "b", "c"].map((name) => ({ name, deltas: large })),
      false,
      "files",
    );
    expect(steps.length).toBe(3);
    expect(steps.every((s) => s.blobs.length === 1)).toBe(true);
  });
});

describe("pairs to be read", () => {
  it("are planned once, and nothing is known before one was read", () => {
    const face: Character = {
      ...character,
      parts: limb.parts,
      shapes: [smile, pout, shapeOf("third", { 10: [0.01, 0, 0] })],
    };
    const { pairs, missing } = planPairs(face);
    expect(missing).toEqual(pairs);
    expect(knownRun(face)).toBeNull();
    expect(planPairs(face).keys).toBe(planPairs(face).keys);
  });
});
