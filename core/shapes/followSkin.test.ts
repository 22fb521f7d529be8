import { loadOda } from "../../demo/cast";
import { runChecks } from "../checks/runChecks";
import { PROFILES } from "../checks/profile";
import { applyStep } from "../ledger/applyStep";
import { encodeDeltas } from "../ledger/deltasBlob";
import { stepSchema } from "../ledger/steps";
import type { Character, Shape } from "../model/character";
import { boxPart, tube } from "../../tests/helpers/characters";
import { followSkin } from "./followSkin";

const limb = tube();
const P = limb.parts[0]!.positions;
/** A shape that does the same to every vertex of the limb. */
const all = (name: string, move: (x: number, y: number, z: number) => readonly [number, number, number]): Shape => ({
  name,
  label: name,
  deltas: [
    {
      part: 0,
      vertices: Uint32Array.from({ length: P.length / 3 }, (_, v) => v),
      deltas: Float32Array.from(
        Array.from({ length: P.length / 3 }, (_, v) => [...move(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!)]).flat(),
      ),
    },
  ],
});
const turn =
  (deg: number) =>
  (x: number, _y: number, z: number): [number, number, number] => {
    const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
    return [c * x + s * z - x, 0, -s * x + c * z - z];
  };
const box = boxPart("pin", [0.004, 0.004, 0.004], [0.07, 0.3, 0], "other");
const character: Character = {
  ...limb,
  parts: [limb.parts[0]!, box],
  shapes: [all("shift", () => [0.01, 0.02, 0]), all("turn", turn(40)), { name: "none", label: "none", deltas: [] }],
};
const moveOf = (c: Character, shape: string, v: number): number[] => {
  const d = c.shapes.find((s) => s.name === shape)!.deltas.find((x) => x.part === 1);
  const k = d ? d.vertices.indexOf(v) : -1;
  return k < 0 ? [0, 0, 0] : [...d!.deltas.subarray(3 * k, 3 * k + 3)];
};

describe("a part that follows the skin", () => {
  const after = followSkin(character, { part: "pin", reachMm: 60 });
  it("goes along with a shift exactly", () => {
    for (let v = 0; v < 8; v++)
      [0.01, 0.02, 0].forEach((x, c) => expect(moveOf(after, "shift", v)[c]).toBeCloseTo(x, 6));
  });
  it("turns with the skin: a rigid turn of the limb turns the pin as one body", () => {
    for (let v = 0; v < 8; v++) {
      const at = [0, 1, 2].map((c) => box.positions[3 * v + c]!) as [number, number, number];
      const wanted = turn(40)(...at);
      expect(Math.hypot(...moveOf(after, "turn", v).map((x, c) => x - wanted[c]!))).toBeLessThan(5e-4);
    }
  });
  it("does nothing where the skin does nothing, and only in the shapes that are named", () => {
    expect(moveOf(after, "none", 0)).toEqual([0, 0, 0]);
    const some = followSkin(character, { part: "pin", reachMm: 60, shapes: ["turn"] });
    expect(moveOf(some, "shift", 0)).toEqual([0, 0, 0]);
    expect(moveOf(some, "turn", 0)).not.toEqual([0, 0, 0]);
  });
  it("lets go beyond its reach", () =>
    expect(moveOf(followSkin(character, { part: "pin", reachMm: 10 }), "shift", 0)).toEqual([0, 0, 0]));
  it("is refused for what is not there", () => {
    expect(() => followSkin(character, { part: "hat", reachMm: 10 })).toThrow(/no part named hat/);
    expect(() => followSkin(character, { part: "limb", reachMm: 10 })).toThrow(/the skin itself/);
    expect(() => followSkin(character, { part: "pin", reachMm: 10, shapes: ["gone"] })).toThrow(/no shape named gone/);
  });
});

describe("a part that follows for good", () => {
  const step = (c: Character, s: unknown, blobs: ReadonlyMap<string, Uint8Array> = new Map()): Character =>
    applyStep(c, stepSchema.parse(s), (h) => blobs.get(h));
  const following = step(character, { op: "follow skin", follow: { part: "pin", reachMm: 60, keep: true } });
  const hash = "a".repeat(64);
  const skinOnly = (
    move: (x: number, y: number, z: number) => readonly [number, number, number],
  ): Map<string, Uint8Array> => new Map([[hash, encodeDeltas(character, all("x", move).deltas)]]);
  it("follows in a shape that is made later, and anew in one that is changed", () => {
    const made = step(
      following,
      { op: "add shapes", source: "x", items: [{ name: "new", label: "new", blob: hash }] },
      skinOnly(() => [0, 0.03, 0]),
    );
    for (let v = 0; v < 8; v++) expect(moveOf(made, "new", v)[1]).toBeCloseTo(0.03, 6);
    const changed = step(
      made,
      { op: "edit shapes", items: [{ name: "shift", blob: hash }] },
      skinOnly(() => [0, 0, 0.02]),
    );
    for (let v = 0; v < 8; v++)
      [0, 0, 0.02].forEach((x, c) => expect(moveOf(changed, "shift", v)[c]).toBeCloseTo(x, 6));
    expect(changed.shapes.find((s) => s.name === "turn")).toBe(made.shapes.find((s) => s.name === "turn"));
  });
  it("keeps what was done to it by hand while the skin stays", () => {
    const own = [
      { part: 0, vertices: character.shapes[0]!.deltas[0]!.vertices, deltas: character.shapes[0]!.deltas[0]!.deltas },
      { part: 1, vertices: Uint32Array.of(3), deltas: Float32Array.of(0.5, 0, 0) },
    ];
    const edited = step(
      following,
      { op: "edit shapes", items: [{ name: "shift", blob: hash }] },
      new Map([[hash, encodeDeltas(character, own)]]),
    );
    expect(moveOf(edited, "shift", 3)[0]).toBeCloseTo(0.5, 6);
    expect(moveOf(edited, "shift", 2)).toEqual([0, 0, 0]);
  });
  it("is found under its new name, and lets go when it is told to", () => {
    const renamed = step(following, { op: "rename", kind: "parts", names: [{ from: "pin", to: "needle" }] });
    expect(renamed.follows).toEqual([{ part: "needle", reachMm: 60 }]);
    const free = step(renamed, { op: "stop following", part: "needle" });
    const made = step(
      free,
      { op: "add shapes", source: "x", items: [{ name: "new", label: "new", blob: hash }] },
      skinOnly(() => [0, 0.03, 0]),
    );
    expect(moveOf(made, "new", 0)).toEqual([0, 0, 0]);
    expect(() => step(free, { op: "stop following", part: "needle" })).toThrow(/follows nothing for good/);
  });
  it("stands back where the mesh is another", () =>
    expect(step(following, { op: "repair", repair: { what: "leave out", part: "pin" } }).parts.length).toBe(1));
});

describe("Oda's followers", () => {
  it(
    "that lost their movement get it back: lashes, brows " + "and tear lines pass the check again, as one step each",
    async () => {
      const oda = await loadOda();
      const lost = oda.parts.flatMap((p, i) =>
        ["lash", "brow", "tear line"].includes(p.kind) ? [{ name: p.name, i }] : [],
      );
      const bare: Character = {
        ...oda,
        shapes: oda.shapes.map((s) => ({ ...s, deltas: s.deltas.filter((d) => !lost.some((l) => l.i === d.part)) })),
      };
      const found = async (c: Character): Promise<number> =>
        (await runChecks(c, PROFILES.realtime, { only: ["shapes.followers"] })).findings.length;
      expect(await found(bare)).toBeGreaterThan(10);
      const mended = lost.reduce(
        (c, l) =>
          applyStep(c, stepSchema.parse({ op: "follow skin", follow: { part: l.name, reachMm: 30 } }), () => undefined),
        bare,
      );
      expect(await found(mended)).toBe(0);
    },
  );
});
