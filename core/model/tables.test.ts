import fc from "fast-check";
import { boxPart, characterWith, partOf, rigidSkin, skeletonOf, tube } from "../../tests/helpers/characters";
import { assertCharacter } from "./assertCharacter";
import { faceCountOf, triangleCountOf, triangulate, vertexCountOf } from "./character";
import { mirrorMap, NO_MIRROR } from "./mirrorMap";
import { neighboursOf } from "./neighbours";
import { guessPartKind } from "./partKind";
import { placesOf } from "./places";
import { uniqueName } from "./uniqueName";
import { isUserError, shortName, UserError } from "./userError";

const coordinates = fc
  .array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 3, maxLength: 60 })
  .map((a) => Float32Array.from(a.slice(0, a.length - (a.length % 3))));

describe("places", () => {
  it("give every vertex the lowest one at its place", () => {
    fc.assert(
      fc.property(coordinates, (P) => {
        const twice = Float32Array.from([...P, ...P]);
        const places = placesOf(twice);
        const n = P.length / 3;
        for (let v = 0; v < n; v++) {
          expect(places[v]).toBeLessThanOrEqual(v);
          expect(places[v + n]).toBe(places[v]);
          expect([0, 1, 2].every((k) => Math.abs(twice[3 * places[v]! + k]! - twice[3 * v + k]!) < 2e-6)).toBe(true);
        }
      }),
    );
  });
  it("keep apart what is farther than the tolerance", () => {
    expect([...placesOf(Float32Array.from([0, 0, 0, 0, 0, 3e-6, 0, 0, 0]))]).toEqual([0, 1, 0]);
    expect([...placesOf(Float32Array.from([-0, 0, 0, 0, -0, 0]))]).toEqual([0, 0]);
  });
});

describe("mirror map", () => {
  it("finds the counterpart of every vertex of a symmetric cloud", () => {
    fc.assert(
      fc.property(coordinates, (P) => {
        const both: number[] = [];
        for (let i = 0; i < P.length; i += 3) both.push(P[i]!, P[i + 1]!, P[i + 2]!, -P[i]!, P[i + 1]!, P[i + 2]!);
        const positions = Float32Array.from(both);
        const map = mirrorMap(positions);
        map.forEach((m, v) => {
          expect(m).not.toBe(NO_MIRROR);
          expect(
            Math.hypot(
              positions[3 * m]! + positions[3 * v]!,
              positions[3 * m + 1]! - positions[3 * v + 1]!,
              positions[3 * m + 2]! - positions[3 * v + 2]!,
            ),
          ).toBeLessThan(1e-6);
        });
      }),
    );
  });
  it("matches the plain search over all pairs", () => {
    fc.assert(
      fc.property(coordinates, (P) => {
        const map = mirrorMap(P, 0.2);
        for (let v = 0; v < P.length / 3; v++) {
          let best = 0.2;
          for (let w = 0; w < P.length / 3; w++)
            best = Math.min(
              best,
              Math.hypot(P[3 * w]! + P[3 * v]!, P[3 * w + 1]! - P[3 * v + 1]!, P[3 * w + 2]! - P[3 * v + 2]!),
            );
          const m = map[v]!;
          if (m === NO_MIRROR) expect(best).toBe(0.2);
          else
            expect(
              Math.hypot(P[3 * m]! + P[3 * v]!, P[3 * m + 1]! - P[3 * v + 1]!, P[3 * m + 2]! - P[3 * v + 2]!),
            ).toBeCloseTo(best, 12);
        }
      }),
    );
  });
  it("leaves out what has no counterpart", () => {
    expect([...mirrorMap(Float32Array.from([0.5, 0, 0, 0, 0, 0]))]).toEqual([NO_MIRROR, 1]);
  });
});

describe("neighbours", () => {
  it("are the ends of polygon edges, each once", () => {
    const { start, list } = neighboursOf(boxPart());
    expect([...start].map((s, i, a) => (a[i + 1] ?? s) - s).slice(0, 8)).toEqual(Array(8).fill(3));
    expect([...list.subarray(start[0]!, start[1]!)]).toEqual([1, 2, 4]);
  });
  it("look across seams", () => {
    // two quads side by side whose common edge is doubled
    const part = partOf(
      "seam",
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 1, 0],
        [0, 1, 0],
        [1, 0, 0],
        [2, 0, 0],
        [2, 1, 0],
        [1, 1, 0],
      ],
      [
        [0, 1, 2, 3],
        [4, 5, 6, 7],
      ],
    );
    const { start, list } = neighboursOf(part);
    const of = (v: number): number[] => [...list.subarray(start[v]!, start[v + 1]!)];
    expect(of(1)).toEqual([0, 2, 5]);
    expect(of(4)).toEqual([0, 2, 5]);
  });
});

describe("triangles of polygons", () => {
  it("are fans that keep their face", () => {
    const part = partOf(
      "five",
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 1, 0],
        [0.5, 2, 0],
        [0, 1, 0],
      ],
      [
        [0, 1, 2, 3, 4],
        [0, 2, 1],
      ],
    );
    const { triangles, faceOfTriangle } = triangulate(part);
    expect([...triangles]).toEqual([0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 2, 1]);
    expect([...faceOfTriangle]).toEqual([0, 0, 0, 1]);
    expect([vertexCountOf(part), faceCountOf(part), triangleCountOf(part)]).toEqual([5, 2, 4]);
  });
});

describe("names and kinds", () => {
  it.each([
    ["Eyelashes_L", "lash"],
    ["tearLine.right", "tear line"],
    ["eye left", "eye"],
    ["UpperTeeth", "teeth"],
    ["tongue_geo", "tongue"],
    ["hairBun", "hair"],
    ["Shirt", "garment"],
    ["Body_LOD0", "body"],
    ["thing", "other"],
  ])("reads %s as %s", (name, kind) => {
    expect(guessPartKind(name, [])).toBe(kind);
  });
  it("falls back on the material", () => expect(guessPartKind("mesh_012", ["lash card"])).toBe("lash"));
  it("numbers names that are taken", () => {
    const taken = new Set<string>();
    expect(["arm", "arm", "", "arm"].map((n) => uniqueName(n, taken, "joint"))).toEqual([
      "arm",
      "arm 2",
      "joint",
      "arm 3",
    ]);
  });
  it("shortens a name of ten thousand characters", () =>
    expect(shortName("x".repeat(10_000)).length).toBeLessThan(100));
  it("puts what, where and what to do into one line", () => {
    const error = new UserError("It broke.", "a.obj, line 3", "Mend it.");
    expect(isUserError(error)).toBe(true);
    expect(error.message).toContain("a.obj, line 3");
    expect(isUserError(new Error("no"))).toBe(false);
  });
});

describe("assertCharacter", () => {
  const sound = tube();
  const part = sound.parts[0]!;
  it("passes a sound character", () => expect(() => assertCharacter(sound)).not.toThrow());
  it.each<[string, Parameters<typeof assertCharacter>[0]]>([
    [
      "corner out of range",
      characterWith({
        parts: [{ ...part, corners: part.corners.map((v, i) => (i === 5 ? 99999 : v)) }],
        skeleton: sound.skeleton,
      }),
    ],
    [
      "position not finite",
      characterWith({
        parts: [{ ...part, positions: part.positions.map((x, i) => (i === 4 ? NaN : x)) }],
        skeleton: sound.skeleton,
      }),
    ],
    [
      "face offsets",
      characterWith({ parts: [{ ...part, faceStarts: part.faceStarts.slice(0, -1) }], skeleton: sound.skeleton }),
    ],
    [
      "joint out of range",
      characterWith({ parts: [{ ...part, skin: rigidSkin(vertexCountOf(part), 7) }], skeleton: sound.skeleton }),
    ],
    [
      "skin of another length",
      characterWith({ parts: [{ ...part, skin: rigidSkin(3, 0) }], skeleton: sound.skeleton }),
    ],
    ["material out of range", characterWith({ parts: [part], materials: [], skeleton: sound.skeleton })],
    [
      "before its parent",
      characterWith({
        skeleton: {
          ...skeletonOf([{ name: "a", parent: -1 }]),
          joints: [{ ...sound.skeleton!.joints[0]!, parent: 0 }],
        },
      }),
    ],
    [
      "vertex out of range",
      characterWith({
        parts: [part],
        skeleton: sound.skeleton,
        shapes: [
          {
            name: "s",
            label: "s",
            deltas: [{ part: 0, vertices: Uint32Array.of(99999), deltas: new Float32Array(3) }],
          },
        ],
      }),
    ],
    [
      "delta length",
      characterWith({
        parts: [part],
        skeleton: sound.skeleton,
        shapes: [
          { name: "s", label: "s", deltas: [{ part: 0, vertices: Uint32Array.of(1), deltas: new Float32Array(2) }] },
        ],
      }),
    ],
  ])("names the first broken rule: %s", (what, broken) => expect(() => assertCharacter(broken)).toThrow(what));
});
