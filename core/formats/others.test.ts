import { boxPart, characterWith, tube } from "../../tests/helpers/characters";
import { decodeCharacter, decodeContainer, encodeCharacter, encodeContainer } from "./container";
import { driverSchema, rootExtrasSchema } from "./extras";
import { writePly } from "./writePly";
import { writeStl } from "./writeStl";

describe("the storage container", () => {
  it("gives back what was put in, arrays of every kind and nesting", () => {
    const shared = Float32Array.of(1.5, -2, 3e-9);
    const value = {
      a: shared,
      again: shared,
      list: [Uint16Array.of(1, 65535), { deep: Uint32Array.of(4294967295) }, null, "text ✓"],
      raw: Uint8Array.of(9, 8, 7),
      empty: new Float32Array(0),
      n: 4,
    };
    expect(decodeContainer(encodeContainer(value))).toEqual(value);
  });
  it("keeps a character to the last bit", () => expect(decodeCharacter(encodeCharacter(tube()))).toEqual(tube()));
  it("does not depend on where its bytes lie", () => {
    const bytes = encodeContainer({ a: Float32Array.of(1, 2) });
    const shifted = new Uint8Array(bytes.length + 3);
    shifted.set(bytes, 3);
    expect(decodeContainer(shifted.subarray(3))).toEqual({ a: Float32Array.of(1, 2) });
  });
  it.each([[new Uint8Array(0)], [Uint8Array.of(1, 2, 3, 4, 5, 6, 7, 8, 9)]])("refuses what is not one", (bytes) =>
    expect(() => decodeContainer(bytes)).toThrow(/not readable/),
  );
});

describe("extras", () => {
  const driver = {
    shape: "s",
    joint: "j",
    axis: [1, 0, 0],
    fromDegrees: 0,
    toDegrees: 90,
    easing: "smooth",
    intensity: 1,
    enabled: true,
  };
  it("take the documented form and fill what may be missing", () =>
    expect(rootExtrasSchema.parse({ version: 1, drivers: [driver] })).toEqual({
      version: 1,
      drivers: [driver],
      shapeDrivers: [],
      poseDrivers: [],
      sampleSets: [],
      twistJoints: [],
      mixes: [],
      baked: [],
      jointMap: {},
      shapeLabels: {},
      jointOffsets: {},
    }));
  it.each([{ ...driver, easing: "bouncy" }, { ...driver, axis: [1, 0] }, { ...driver, intensity: "1" }, {}])(
    "refuse another form",
    (broken) => expect(driverSchema.safeParse(broken).success).toBe(false),
  );
  it("refuse another version", () => expect(rootExtrasSchema.safeParse({ version: 2 }).success).toBe(false));
});

describe("meshes for looking elsewhere", () => {
  const box = characterWith({ parts: [boxPart()] });
  it("STL holds every triangle with its normal", () => {
    const bytes = writeStl(box, [box.parts[0]!.positions]);
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    expect(bytes.length).toBe(84 + 50 * 12);
    expect(view.getUint32(80, true)).toBe(12);
    for (let t = 0; t < 12; t++) {
      const n = [0, 4, 8].map((o) => view.getFloat32(84 + 50 * t + o, true));
      expect(Math.hypot(...n)).toBeCloseTo(1, 6);
      const v = [12, 16, 20].map((o) => view.getFloat32(84 + 50 * t + o, true));
      expect(n[0]! * v[0]! + n[1]! * v[1]! + n[2]! * v[2]!).toBeCloseTo(0.5, 6);
    }
  });
  it("PLY counts and lists vertices and polygons", () => {
    const lines = writePly(box, [box.parts[0]!.positions]).trim().split("\n");
    expect(lines[0]).toBe("ply");
    expect(lines).toContain("element vertex 8");
    expect(lines).toContain("element face 6");
    const body = lines.slice(lines.indexOf("end_header") + 1);
    expect(body.length).toBe(14);
    expect(body[8]).toBe("4 0 2 3 1");
  });
});
