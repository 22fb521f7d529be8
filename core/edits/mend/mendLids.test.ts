import { loadOda } from "../../../demo/cast";
import { PROFILES } from "../../checks/profile";
import { runChecks } from "../../checks/runChecks";
import { shapeNamed, type Character } from "../../model/character";
import { mend, mendSentence } from "../../checks/mend";
import { shutLids } from "./mendLids";

const oda: Character = { ...(await loadOda()), clips: [] };
const kept = (names: readonly string[]): Character => ({
  ...oda,
  drivers: [],
  shapeDrivers: [],
  shapes: oda.shapes.filter((s) => names.includes(s.name)),
});
/** Shapes that shut an eye at a share of what they do. */
const weak = (share: number, ...names: string[]): Character => {
  const c = kept(names);
  return {
    ...c,
    shapes: c.shapes.map((s) => ({
      ...s,
      deltas: s.deltas.map((d) => ({ ...d, deltas: d.deltas.map((x) => share * x) })),
    })),
  };
};
const found = async (c: Character, ...only: string[]): Promise<string[]> =>
  (await runChecks(c, PROFILES.film, { only })).findings.map((f) => `${f.check} ${f.shape}`);

describe("eyes that do not shut", () => {
  it.each([0.75, 0.85, 0.93])(
    "at %d of the shape are shut with one click, off the eyeball, lashes along",
    async (share) => {
      const open = weak(share, "AU43_left");
      const { findings } = await runChecks(open, PROFILES.film, { only: ["face.lid-gap"] });
      expect(findings).toHaveLength(1);
      expect(findings[0]!.value).toBeGreaterThan(0.3);
      expect(mendSentence(findings[0]!)).toMatch(/Slides the lids along the eyeball in AU43_left/);
      const shut = mend(open, findings[0]!);
      expect(await found(shut, "face.lid-gap", "face.eye-through-lid", "shapes.followers", "shapes.flip")).toEqual([]);
      // the other eye and everything but lids, lashes and tear line stay
      const [a, b] = [open, shut].map(
        (c) => new Set(shapeNamed(c, "AU43_left")!.deltas.map((d) => c.parts[d.part]!.name)),
      );
      expect(b).toEqual(a);
      const body = oda.parts.findIndex((p) => p.kind === "body");
      const P = oda.parts[body]!.positions;
      const inmost = (c: Character): number =>
        Math.min(
          ...Array.from(shapeNamed(c, "AU43_left")!.deltas.find((d) => d.part === body)!.vertices, (v) => P[3 * v]!),
        );
      expect(inmost(shut)).toBeGreaterThanOrEqual(inmost(open));
    },
  );
  it("are both shut where one shape shuts both", async () => {
    const open = weak(0.85, "blink");
    const { findings } = await runChecks(open, PROFILES.film, { only: ["face.lid-gap"] });
    expect(findings).toHaveLength(2);
    expect(await found(mend(open, findings[0]!), "face.lid-gap", "face.eye-through-lid")).toEqual([]);
  });
  it("are left as they are where they are within the limit", () => {
    const c = kept(["AU43_left"]);
    const body = c.parts.findIndex((p) => p.kind === "body");
    const of = (x: Character): Map<number, number> =>
      new Map(
        Array.from(shapeNamed(x, "AU43_left")!.deltas.find((d) => d.part === body)!.vertices, (v, k) => [
          v,
          shapeNamed(x, "AU43_left")!.deltas.find((d) => d.part === body)!.deltas[3 * k + 1]!,
        ]),
      );
    const [before, after] = [of(c), of(shutLids(c, "AU43_left", 5))];
    for (const [v, y] of before) expect(Math.abs((after.get(v) ?? 0) - y)).toBeLessThan(1e-4);
  });
  it("are refused for a shape that shuts none, and without eyes", () => {
    expect(() => shutLids(kept(["AU12_left"]), "AU12_left", 0.3)).toThrow(/shuts no eye/);
    expect(() =>
      shutLids(
        {
          ...kept(["AU43_left"]),
          parts: oda.parts.map((p) => (p.kind === "eye" ? { ...p, kind: "other" as const } : p)),
        },
        "AU43_left",
        0.3,
      ),
    ).toThrow(/shuts no eye/);
  });
});
