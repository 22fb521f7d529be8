import "fake-indexeddb/auto";
import { beginPaint, dabPaint } from "~core/weights/paintWeights";
import { dabMask, emptyMask } from "~core/correctives/paintedMask";
import { jointMotions } from "~core/skeleton/jointMotions";
import { humanoidMap } from "~core/skeleton/humanoidMap";
import type { Character } from "~core/model/character";
import { shapeOf, tube } from "../../../tests/helpers/characters";
import { ago } from "../../ui/ago";
import { canLetGo, forgetStep, keepSteps, letWait, pendingOf, pendingSteps, Refusal, sendStep } from "../ledgerClient";
import type { Addition } from "~core/intake/bringAdditions";
import { beginSculpt } from "../sculpt";
import { beginShapeSculpt } from "../sculptShape";
import { makeLoaded, makeSession, type SessionStore } from "../session";
import { newDraft } from "../slices/tools";
import { START_VIEW } from "../urlState";
import { draftAddress } from "./draftAddress";
import { draftOf, dropDraftsOf, heavyOf, keepDraft, keepHeavy, listDrafts, type Draft } from "./drafts";
import { keepClipMap, knownClipMaps } from "./keptClipMaps";
import { readingsStore } from "./keptReadings";
import { onKept } from "./keptStore";
import { keepWatched, keptWatched } from "./keptWatched";
import { endWork } from "./useKeepDrafts";
import type { Tool } from "./keptTools";
import { describeWork, takeUpDraft } from "./workDrafts";

const limb: Character = {
  ...tube({ rings: 9, sides: 8 }),
  shapes: [shapeOf("bulge", { 3: [0.01, 0, 0] })],
  jointMap: { upper: "leftUpperArm", lower: "leftLowerArm" },
};
const motion = jointMotions(limb.skeleton!, humanoidMap(limb.skeleton!, limb.jointMap)).find(
  (m) => m.joint === "lower",
)!;
const desk = (character = limb): SessionStore => {
  const store = makeSession(START_VIEW);
  store.setState({ loaded: makeLoaded(character, "state", null) });
  return store;
};
/** What the desk does when a tool's work changes: describes it, and keeps it. */
const kept = async (store: SessionStore, tool: Tool, character = "limb"): Promise<Draft> => {
  const id = store.getState()[tool]!.draft;
  await keepDraft({ id, character, changedAt: 5, ...describeWork(store.getState(), tool)! });
  return (await draftOf(id))!;
};
const stroke = new Map([[7, [0, 0, 0] as const]]);

describe("drafts of work", () => {
  it(
    "bring a sculpt of a motion back with its strokes, pose " +
      "and name, and nothing is described before the first stroke",
    async () => {
      const store = desk();
      store.setState({ pose: { lower: [80, 0, 0] }, method: "dual" });
      beginSculpt(store, motion, null, 0);
      expect(describeWork(store.getState(), "sculpt")).toBeNull();
      const { sculpt } = store.getState();
      sculpt!.sketch.deltas.set([0.01, 0.02, 0.03], 21);
      sculpt!.sketch.ill.add(9);
      store.setState({ sculpt: { ...sculpt!, undo: [stroke], name: "mine" } });
      const draft = await kept(store, "sculpt");
      expect(draft).toMatchObject({
        title: expect.stringMatching(/sculpt of left lower arm/) as string,
        amount: "1 stroke",
        place: { station: "correctives", query: { open: motion.id } },
      });
      expect(draftAddress(draft)).toBe(`/c/limb/correctives?open=${encodeURIComponent(motion.id)}&draft=${draft.id}`);
      const other = desk();
      await takeUpDraft(other, draft);
      const back = other.getState();
      expect(back.sculpt).toMatchObject({ name: "mine", draft: draft.id, undo: [stroke] });
      expect([back.pose, back.method]).toEqual([{ lower: [80, 0, 0] }, "dual"]);
      expect(Array.from(back.sculpt!.sketch.deltas.slice(21, 24))).toEqual(
        Array.from(Float32Array.of(0.01, 0.02, 0.03)),
      );
      expect(back.sculpt!.sketch.ill.has(9)).toBe(true);
    },
  );
  it("bring back a shape that was sculpted again at its weight", async () => {
    const store = desk();
    store.setState({ weights: { bulge: 0.5 } });
    beginShapeSculpt(store, { kind: "edit", shape: "bulge" }, 0);
    store.setState((s) => ({ sculpt: { ...s.sculpt!, undo: [stroke] } }));
    const other = desk();
    await takeUpDraft(other, await kept(store, "sculpt"));
    expect(other.getState().sculpt).toMatchObject({ purpose: { kind: "edit", shape: "bulge" } });
    expect(other.getState().weights).toEqual({ bulge: 0.5 });
    expect(other.getState().sculpt!.sketch.deltas[9]).toBeCloseTo(0.01);
  });
  it("are kept, and say why, when the part has other vertices or is gone, or the joints are others", async () => {
    const store = desk();
    beginShapeSculpt(store, { kind: "new shape" }, 0);
    store.setState((s) => ({ sculpt: { ...s.sculpt!, undo: [stroke] } }));
    const draft = await kept(store, "sculpt");
    await expect(takeUpDraft(desk({ ...tube({ rings: 12, sides: 8 }) }), draft)).rejects.toThrow(
      /made on 74 vertices of limb; it has 98 now/,
    );
    await expect(takeUpDraft(desk({ ...limb, parts: [{ ...limb.parts[0]!, name: "arm" }] }), draft)).rejects.toThrow(
      /no part named limb any more/,
    );
    expect(await draftOf(draft.id)).toBeDefined();
  });
  it("bring painted weights and a mask back, and refuse weights of another skeleton", async () => {
    const store = desk();
    const of = beginPaint(limb, "limb");
    const record = new Map<number, Float32Array>();
    dabPaint(of, 1, "add", 1, new Map([[4, 1]]), false, record);
    store.setState({
      paint: { of, tool: "even out", undo: [record], redo: [], joints: ["lower"], version: 1, draft: newDraft() },
    });
    const draft = await kept(store, "paint");
    const other = desk();
    await takeUpDraft(other, draft);
    expect(other.getState().paint).toMatchObject({ tool: "even out", joints: ["lower"], draft: draft.id });
    expect(Array.from(other.getState().paint!.of.dense)).toEqual(Array.from(of.dense));
    expect(Array.from(other.getState().paint!.of.began)).not.toEqual(Array.from(of.dense));
    await expect(
      takeUpDraft(
        desk({
          ...limb,
          skeleton: { ...limb.skeleton!, joints: limb.skeleton!.joints.map((j) => ({ ...j, name: `x${j.name}` })) },
        }),
        draft,
      ),
    ).rejects.toThrow(/other joints/);

    const mask = emptyMask(0, limb.parts[0]!.positions);
    store.setState({ mask: { of: mask, painting: true, undo: [], redo: [], version: 0, draft: newDraft() } });
    expect(describeWork(store.getState(), "mask")).toBeNull();
    dabMask(mask, new Map([[5, 1]]), 1, false, new Map());
    await takeUpDraft(other, await kept(store, "mask"));
    expect(other.getState().mask!.of.values[5]).toBeGreaterThan(0);
    expect(other.getState().mask!.painting).toBe(false);
  });
  it(
    "are listed the latest first, by character, without " + "their heavy halves; those of a character go with it",
    async () => {
      await dropDraftsOf("limb");
      const draft = (id: string, character: string, changedAt: number): Draft => ({
        id,
        character,
        changedAt,
        title: id,
        amount: "",
        place: { station: "intake", query: {} },
        content: { kind: "rules", of: "names", value: {} },
      });
      await keepDraft(draft("a", "one", 1));
      await keepDraft(draft("b", "one", 3));
      await keepDraft(draft("c", "two", 2));
      await keepHeavy("a", { mesh: Float32Array.of(1) });
      expect((await listDrafts()).map((d) => d.id)).toEqual(["b", "c", "a"]);
      expect((await listDrafts("one")).map((d) => d.id)).toEqual(["b", "a"]);
      await dropDraftsOf("one");
      expect((await listDrafts()).map((d) => d.id)).toEqual(["c"]);
      expect(await heavyOf("a")).toBeNull();
    },
  );
  it("that are ended go for good", async () => {
    const store = desk();
    beginShapeSculpt(store, { kind: "new shape" }, 0);
    store.setState((s) => ({ sculpt: { ...s.sculpt!, undo: [stroke] } }));
    const { id } = await kept(store, "sculpt");
    endWork(store, "sculpt");
    await new Promise((r) => setTimeout(r, 20));
    expect([store.getState().sculpt, await draftOf(id)]).toEqual([null, undefined]);
  });
});

describe("steps that wait", () => {
  const step = { op: "map joint", joint: "lower", bone: "leftLowerArm" } as const;
  const answer = (status: number, body: unknown): void =>
    void (globalThis.fetch = (() =>
      Promise.resolve(
        new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } }),
      )) as never);
  const realFetch = globalThis.fetch;
  afterEach(async () => {
    globalThis.fetch = realFetch;
    for (const s of await pendingSteps("x")) await forgetStep(s);
  });
  it("go when the server has them, and only then; else they say why they are still here", async () => {
    const changes: number[] = [];
    const stop = onKept("steps", () => changes.push(1));
    const pending = await pendingOf("x", { step, blobs: [] });
    await keepSteps([pending]);
    for (const [status, trouble] of [
      [500, "failed"],
      [503, "unreachable"],
      [409, "conflict"],
      [413, "too large"],
      [422, "refused"],
      [499, "cancelled"],
    ] as const) {
      answer(status, { error: { what: `answer ${status}.`, where: "", todo: "" } });
      await expect(sendStep(pending, 0)).rejects.toMatchObject({ trouble });
      expect(await pendingSteps("x")).toMatchObject([{ key: pending.key, trouble, told: `answer ${status}.` }]);
    }
    globalThis.fetch = (() => Promise.reject(new TypeError("no connection"))) as never;
    await expect(sendStep(pending, 0)).rejects.toThrow(/does not answer/);
    answer(200, { revision: 1, branched: 0 });
    expect(await sendStep(pending, 0)).toEqual({ revision: 1, branched: 0 });
    expect(await pendingSteps("x")).toEqual([]);
    expect(changes.length).toBeGreaterThan(6);
    stop();
  });
  it("stay in the order in which they were made, and wait for the one that was not taken", async () => {
    const made = await Promise.all(
      ["a", "b", "c"].map((joint) => pendingOf("x", { step: { ...step, joint }, blobs: [] })),
    );
    await keepSteps(made);
    answer(503, {});
    await expect(sendStep(made[0]!, 0)).rejects.toBeInstanceOf(Refusal);
    await letWait(made.slice(1));
    expect((await pendingSteps("x")).map((s) => [(s.step as { joint: string }).joint, s.trouble])).toEqual([
      ["a", "unreachable"],
      ["b", "unreachable"],
      ["c", "unreachable"],
    ]);
  });
  it("of one draft take each other's place, and are the same step while nothing was changed", async () => {
    const [first, again, changed] = [
      await pendingOf("x", { step, blobs: [] }, "draft"),
      await pendingOf("x", { step, blobs: [] }, "draft"),
      await pendingOf("x", { step: { ...step, joint: "upper" }, blobs: [] }, "draft"),
    ];
    expect(again.key).toBe(first.key);
    expect(changed.key).not.toBe(first.key);
    await keepSteps([first]);
    await keepSteps([changed]);
    expect((await pendingSteps("x")).map((s) => s.key)).toEqual([changed.key]);
  });
  it("may go at once only where nothing is lost by it", async () => {
    const plain = await pendingOf("x", { step, blobs: [] });
    const carrying = await pendingOf("x", { step, blobs: [new Uint8Array(1)] });
    const drawn = await pendingOf("x", { step, blobs: [new Uint8Array(1)] }, "draft");
    const lets = (s: typeof plain): string[] =>
      (["unreachable", "failed", "conflict", "refused", "too large"] as const).filter((t) => canLetGo(s, t));
    expect([lets(plain), lets(carrying), lets(drawn)]).toEqual([["refused"], [], ["conflict", "refused", "too large"]]);
  });
});

describe("how long ago", () => {
  it.each([
    [0, "just now"],
    [59_000, "just now"],
    [120_000, "2 min ago"],
    [3 * 3_600_000, "3 h ago"],
    [30 * 3_600_000, "yesterday"],
    [72 * 3_600_000, "3 days ago"],
  ])("%d ms is %s", (ms, words) => expect(ago(1e12, 1e12 + ms)).toBe(words));
});

describe("what was said of a clip's joints", () => {
  const report = { unsure: [{ joint: "a", bone: "hips", rival: "b" }], jointNames: ["a", "b", "c"] };
  const clip = (file: string, jointNames = report.jointNames): Addition =>
    ({ what: "clip", file, report: { ...report, jointNames } }) as unknown as Addition;

  it("is known for the next file with the same joints, in whatever order, and for no other", async () => {
    await keepClipMap(["c", "b", "a"], { a: null, b: "hips" });
    expect(await knownClipMaps([clip("next.bvh"), clip("other.bvh", ["a", "b"])], {})).toEqual({
      "next.bvh": { a: null, b: "hips" },
    });
  });
  it("gives way to what is said anew", async () => {
    expect(await knownClipMaps([clip("next.bvh")], { "next.bvh": { c: "hips" } })).toEqual({});
  });
});

describe("measures of a trial", () => {
  it("are kept by what was measured, and those of another shape are not taken", async () => {
    const watched = { key: "state true {}", readings: [], whole: true };
    await keepWatched(watched);
    expect(await keptWatched(watched.key)).toEqual(watched);
    expect(await keptWatched("state false {}")).toBeUndefined();
  });
  it("push out those that were kept longest ago", async () => {
    const store = readingsStore<number>("yxomorph-test", 2);
    const clock = jest.spyOn(Date, "now");
    for (const [i, name] of ["a", "b", "c"].entries()) {
      clock.mockReturnValue(1000 + i);
      await store.keep(name, i);
    }
    clock.mockRestore();
    expect([await store.get("a"), await store.get("b"), await store.get("c")]).toEqual([undefined, 1, 2]);
  });
});
