import { DRIVER_GROUPS } from "~core/model/poseDriver";
import fc from "fast-check";
import { figureSkeleton, rigidSkin, boxPart, characterWith, shapeOf, tube } from "../../tests/helpers/characters";
import type { Driver } from "~core/model/character";
import type { JointReading } from "~core/measure/measureJoint";
import { jointMotions } from "~core/skeleton/jointMotions";
import { humanoidMap } from "~core/skeleton/humanoidMap";
import { LIMBS, limbOf, shortLabel } from "../stations/correctives/limbs";
import { shapeRows, soloView, SORTS } from "../stations/shapes/shapeRows";
import { stationWord } from "../stations/stationWord";
import { driversOn, rangeOn, worstOf, worstRow } from "./motionScore";
import { angleAlong, poseMotion, withMotion } from "./posing";
import { beginSculpt, makeStep, mirrorStep, sketchStep, usualPart } from "./sculpt";
import { endWork } from "./kept/useKeepDrafts";
import { makeLoaded, makeSession } from "./session";
import { setWeight } from "./slices/view";
import { showFinding } from "./showFinding";
import { READINGS, START_VIEW, viewFromQuery, viewToQuery, type ViewState } from "./urlState";

const skeleton = figureSkeleton();
const motions = jointMotions(skeleton, humanoidMap(skeleton));
const elbow = motions.find((m) => m.id === "leftLowerArm/bend")!;
const twist = motions.find((m) => m.id === "leftLowerArm/twist")!;

describe("the view in the address", () => {
  it("comes back as it was", () => {
    const name = fc.stringMatching(/^[a-zA-Z0-9 :._&+%-]{1,20}$/);
    const angle = fc.integer({ min: -180_000, max: 180_000 }).map((x) => x / 1000);
    const view = fc.record({
      pose: fc.dictionary(
        name,
        fc.tuple(angle, angle, angle).filter((a) => a.some((x) => x !== 0)),
        { maxKeys: 4 },
      ),
      weights: fc.dictionary(
        name,
        fc.integer({ min: 1, max: 1000 }).map((x) => x / 1000),
        { maxKeys: 4 },
      ),
      method: fc.constantFrom("linear", "dual"),
      drivers: fc.boolean(),
      driversOff: fc.subarray([...DRIVER_GROUPS]),
      framing: fc.constantFrom("whole", "face", "joint leftHand"),
      reading: fc.constantFrom(...READINGS),
      compare: fc.constantFrom("now", "wipe", "side by side"),
      wires: fc.boolean(),
      joints: fc.boolean(),
      dressed: fc.boolean(),
      joint: fc.option(name),
      camera: fc.option(fc.array(angle, { minLength: 6, maxLength: 6 })),
    });
    fc.assert(
      fc.property(view, (v) => {
        const query = viewToQuery(v as ViewState, new URLSearchParams()).toString();
        const back = viewFromQuery(new URLSearchParams(query));
        expect(JSON.parse(JSON.stringify(back))).toEqual(
          JSON.parse(
            JSON.stringify({
              ...v,
              pose: Object.fromEntries(Object.entries(v.pose)),
              weights: Object.fromEntries(Object.entries(v.weights)),
            }),
          ),
        );
      }),
    );
  });
  it("is empty for the start view and leaves other parameters alone", () => {
    expect(viewToQuery(START_VIEW, new URLSearchParams("leaf=map&open=x")).toString()).toBe("leaf=map&open=x");
    expect(viewFromQuery(new URLSearchParams(""))).toEqual(START_VIEW);
  });
  it("falls back where it makes no sense", () => {
    const broken = viewFromQuery(new URLSearchParams("pose=a=x,y~=1~~b&w=%3D&read=magic&cmp=7&cam=1,2&method=cubic"));
    expect(broken).toMatchObject({ reading: "skin", compare: "now", method: "linear", camera: null });
    expect(broken.pose).toEqual({ a: [0, 0, 0] });
    // a shape is played within nothing and full, whatever a link says
    expect(viewFromQuery(new URLSearchParams("w=smile=7~pout=-2~wink=0.4")).weights).toEqual({
      smile: 1,
      pout: 0,
      wink: 0.4,
    });
  });
});

describe("posing along a motion", () => {
  it("keeps the turn about other axes", () => {
    const bent = withMotion({}, elbow, 90);
    const both = withMotion(bent, twist, 40);
    expect(angleAlong(elbow, bent)).toBe(90);
    expect(Math.abs(angleAlong(elbow, withMotion(both, twist, 0)))).toBe(90);
    expect(withMotion(bent, elbow, 0)).toEqual({});
    expect(withMotion({ head: [0, 10, 0] }, elbow, 0)).toEqual({ head: [0, 10, 0] });
  });
  it("stays within the range, and waits while sculpting", () => {
    const store = makeSession(START_VIEW);
    poseMotion(store, elbow, 999);
    expect(angleAlong(elbow, store.getState().pose)).toBe(elbow.max);
    expect(store.getState().joint).toBe("leftLowerArm");
  });
});

describe("scores", () => {
  const reading = (over: Partial<JointReading>): JointReading => ({
    volume: 0,
    depth: 0,
    stretch: 1,
    flips: 0,
    ...over,
  });
  it("name the measure that is farthest over its limit", () => {
    expect(worstOf(reading({ volume: -0.2, depth: 5, stretch: 1.5 }))).toMatchObject({
      measure: "volume",
      times: 2,
      text: "volume -20 %",
    });
    expect(worstOf(reading({ depth: 12 }))).toMatchObject({ measure: "overlap", text: "overlap 12.0 mm" });
    expect(worstOf(reading({ stretch: 3 })).measure).toBe("stretch");
    expect(worstOf(reading({ volume: 0.3 })).times).toBe(0);
  });
  it("find the worst moment of a sweep, without and with", () => {
    const rows = [0, 60, 120].map((angle) => ({
      joint: "j",
      motion: "bend",
      angle,
      without: reading({ volume: -angle / 400 }),
      with: reading({ depth: 60 - angle / 2 }),
    }));
    expect(worstRow(rows, "without")!.row.angle).toBe(120);
    expect(worstRow(rows, "with")!.row.angle).toBe(0);
    expect(worstRow([], "with")).toBeNull();
  });
  it("know which drivers read a motion, in the motion's own sense", () => {
    const driver: Driver = {
      shape: "s",
      joint: "leftLowerArm",
      axis: elbow.axis.map((x) => -x) as never,
      fromDegrees: -20,
      toDegrees: -90,
      easing: "linear",
      intensity: 1,
      enabled: true,
    };
    expect(rangeOn(driver, elbow)).toEqual({ from: 20, to: 90 });
    expect(rangeOn({ ...driver, joint: "head" }, elbow)).toBeNull();
    expect(rangeOn({ ...driver, axis: twist.axis }, elbow)).toBeNull();
    expect(driversOn(characterWith({ drivers: [driver] }), elbow)).toEqual([driver]);
  });
});

describe("lists of the sheets", () => {
  it("every motion belongs to a limb, and is named within it", () => {
    for (const m of motions) expect(LIMBS).toContain(limbOf(m));
    expect([limbOf(elbow), shortLabel(elbow)]).toEqual(["left arm", "lower arm bend"]);
  });
  it.each([
    ["mesh.loose", "Intake"],
    ["weights.sum", "Skeleton"],
    ["shapes.flip", "Shapes"],
    ["pose.volume", "Trials"],
  ])("%s is shown at %s", (check, station) => expect(stationWord(check)).toBe(station));
  it("shapes stand worst first, with their findings", () => {
    const character = {
      ...tube(),
      shapes: [
        shapeOf("fine", { 1: [0.01, 0, 0] }),
        shapeOf("bad", { 2: [0.01, 0, 0] }),
        shapeOf("driven", { 3: [0.01, 0, 0] }),
      ],
      drivers: [
        {
          shape: "driven",
          joint: "lower",
          axis: [1, 0, 0] as const,
          fromDegrees: 0,
          toDegrees: 80,
          easing: "linear" as const,
          intensity: 1,
          enabled: true,
        },
      ],
    };
    const loaded = makeLoaded(character, "state", null);
    const finding = {
      check: "shapes.flip",
      severity: "warn" as const,
      part: "limb",
      joint: null,
      shape: "bad",
      pair: null,
      clip: null,
      vertices: [2],
      value: 1,
      unit: "faces",
      limit: 0,
      message: "m",
    };
    const rows = shapeRows(loaded, null, [finding]).sort(SORTS.worst);
    expect(rows[0]).toMatchObject({ worst: "warn", findings: [finding] });
    expect(rows[0]!.shape.name).toBe("bad");
    expect([...rows].sort(SORTS.name).map((r) => r.shape.name)).toEqual(["bad", "driven", "fine"]);
    const driven = soloView(
      character,
      rows.find((r) => r.shape.name === "driven")!,
    );
    expect(driven.framing).toBe("joint lower");
    expect(driven.moment.pose["lower"]![0]).toBeCloseTo(80, 6);
    expect(soloView(character, rows[0]!).moment.weights).toEqual({ bad: 1 });
  });
});

describe("a session", () => {
  const body = {
    ...boxPart("body", [0.2, 0.85, 0.2], [0, 0.85, 0]),
    skin: rigidSkin(
      8,
      skeleton.joints.findIndex((j) => j.name === "leftLowerArm"),
    ),
  };
  const character = characterWith({
    name: "box",
    parts: [body],
    skeleton,
    shapes: [shapeOf("smile", { 1: [0.01, 0, 0] })],
  });
  const open = (): ReturnType<typeof makeSession> => {
    const store = makeSession(START_VIEW);
    store.setState({ loaded: makeLoaded(character, "s", null) });
    return store;
  };
  it("sets and takes out weights", () => {
    const store = open();
    setWeight(store, "smile", 0.4);
    expect(store.getState().weights).toEqual({ smile: 0.4 });
    setWeight(store, "smile", 0);
    expect(store.getState().weights).toEqual({});
  });
  it("brings a finding's place, joint and shape to the stage", () => {
    const store = open();
    showFinding(store, {
      check: "c",
      severity: "warn",
      part: "body",
      joint: null,
      shape: "smile",
      pair: null,
      clip: null,
      vertices: [1, 2],
      value: null,
      unit: "",
      limit: null,
      message: "",
    });
    expect(store.getState()).toMatchObject({
      weights: { smile: 1 },
      framing: "face",
      place: { part: "body", vertices: [1, 2] },
    });
  });
  it("sculpts, keeps the sculpt as a step, and refuses an empty one", async () => {
    const store = open();
    expect(usualPart(store.getState())).toBe(0);
    poseMotion(store, elbow, 100);
    beginSculpt(store, elbow, null);
    const { sculpt, loaded } = store.getState();
    await expect(sketchStep({ ...store.getState(), loaded: loaded!, sculpt: sculpt! }, "flesh", false)).rejects.toThrow(
      /Nothing was sculpted/,
    );
    sculpt!.sketch.deltas[0] = 0.01;
    const { step, blobs } = await sketchStep({ ...store.getState(), loaded: loaded!, sculpt: sculpt! }, "flesh", false);
    expect(step).toMatchObject({
      op: "make correctives",
      items: [{ name: "flesh", driver: { joint: "leftLowerArm", toDegrees: 100, fromDegrees: 40 } }],
    });
    expect(blobs.length).toBe(1);
    endWork(store, "sculpt");
    expect(store.getState().sculpt).toBeNull();
  });
  it("starts a second corrective of a joint where the first ends, and keeps the skinning it was made for", async () => {
    const store = open();
    poseMotion(store, elbow, 60);
    const { loaded } = store.getState();
    const first = {
      shape: "b",
      joint: elbow.joint,
      axis: elbow.axis,
      fromDegrees: 24,
      toDegrees: 60,
      easing: "smooth",
      intensity: 1,
      enabled: true,
    } as const;
    poseMotion(store, elbow, 100);
    const with60 = {
      ...loaded!,
      character: { ...character, shapes: [...character.shapes, shapeOf("b", { 2: [0, 0.01, 0] })], drivers: [first] },
    };
    const { step } = await makeStep(
      { ...store.getState(), loaded: with60 },
      elbow,
      "more",
      shapeOf("x", { 3: [0, 0.01, 0] }).deltas,
      null,
    );
    expect(step).toMatchObject({
      op: "make correctives",
      items: [{ driver: { fromDegrees: 60, toDegrees: 100, method: "linear" } }],
    });
  });
  it("refuses to mirror what is not there, or is there already", async () => {
    await expect(mirrorStep(character, "gone")).rejects.toThrow(/no corrective named gone/);
    const driver = {
      shape: "left flesh",
      joint: elbow.joint,
      axis: elbow.axis,
      fromDegrees: 36,
      toDegrees: 90,
      easing: "smooth",
      intensity: 1,
      enabled: true,
    } as const;
    const both = {
      ...character,
      shapes: [shapeOf("left flesh", { 0: [0.01, 0, 0] }), shapeOf("right flesh", { 1: [0.01, 0, 0] })],
      drivers: [driver],
    };
    await expect(mirrorStep(both, "left flesh")).rejects.toThrow(/is there already/);
    const made = await mirrorStep({ ...both, shapes: [both.shapes[0]!] }, "left flesh");
    expect(made.step).toMatchObject({ items: [{ name: "right flesh", driver: { joint: "rightLowerArm" } }] });
    expect(made.unmatched).toBe(0);
  });
});
