import { loadOda } from "../../../demo/cast";
import type { Character, Shape } from "../../model/character";
import { shapeOf, tube } from "../../../tests/helpers/characters";
import { PROFILES } from "../profile";
import { runChecks } from "../runChecks";

const limb = tube();
const found = async (...shapes: Shape[]): Promise<[string, string][]> =>
  (await runChecks({ ...limb, shapes }, PROFILES.film, { only: ["shapes.alike"] })).findings.map(
    (f) => [...f.pair!] as [string, string],
  );
const at = (scale: number, name: string, more: Record<number, readonly [number, number, number]> = {}): Shape =>
  shapeOf(name, { 10: [0.01 * scale, 0, 0], 11: [0, 0.02 * scale, 0], ...more });

describe("shapes that do the same", () => {
  it("are found as copies, and as near copies", async () => {
    expect(await found(at(1, "a"), at(1, "b"))).toEqual([["a", "b"]]);
    expect(await found(at(1, "a"), at(1.005, "b"))).toEqual([["a", "b"]]);
    expect(await found(at(1, "a"), at(1, "b", { 12: [0.0001, 0, 0] }))).toEqual([["a", "b"]]);
  });
  it("are not those of another size, place or direction, nor empty ones", async () => {
    expect(await found(at(1, "a"), at(1.04, "b"))).toEqual([]);
    expect(await found(at(1, "a"), shapeOf("b", { 20: [0.01, 0, 0], 21: [0, 0.02, 0] }))).toEqual([]);
    expect(await found(at(1, "a"), at(-1, "b"))).toEqual([]);
    expect(await found({ name: "a", label: "a", deltas: [] }, { name: "b", label: "b", deltas: [] })).toEqual([]);
  });
  it(
    "are not a preset and the unit it plays: none on " + "Oda, where blinkLeft is unit 43; a copy of a unit is",
    async () => {
      const oda: Character = await loadOda();
      const alike = async (c: Character): Promise<string[]> =>
        (await runChecks(c, PROFILES.realtime, { only: ["shapes.alike"] })).findings.map(
          (f) => `${f.severity} ${f.pair!.join(" ")}`,
        );
      expect(await alike(oda)).toEqual([]);
      const unit = oda.shapes.find((s) => s.name === "AU12_left")!;
      expect(await alike({ ...oda, shapes: [...oda.shapes, { ...unit, name: "AU12_L" }] })).toEqual([
        "note AU12_left AU12_L",
      ]);
    },
  );
});
