import { loadOda } from "../../demo/cast";
import { skeletonEyeCentre } from "../checks/skeleton/skeletonEyeCentre";
import { runChecks } from "../checks/runChecks";
import { PROFILES } from "../checks/profile";
import { mend, mendSentence } from "../checks/mend";
import { eyesOf } from "../measure/eyeMoves";
import type { Character, Shape } from "../model/character";
import { buildShapes, refitShapes } from "../edits/skeleton/refitJoints";

const oda = await loadOda();
/** Shape that shifts whatever stands within a ball, skin and eyeballs alike. */
function shifting(
  name: string,
  character: Character,
  by: readonly [number, number, number],
  kinds: readonly string[],
): Shape {
  const eyes = eyesOf(character);
  return {
    name,
    label: name,
    deltas: character.parts.flatMap((part, p) => {
      if (!kinds.includes(part.kind)) return [];
      const vertices = [...Array(part.positions.length / 3).keys()].filter((v) =>
        eyes.some((e) => Math.hypot(...[0, 1, 2].map((c) => part.positions[3 * v + c]! - e.centre[c]!)) < 0.02),
      );
      return vertices.length
        ? [{ part: p, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(vertices.flatMap(() => by)) }]
        : [];
    }),
  };
}
const wide = shifting("eyes higher", oda, [0, 0.006, 0], ["body", "eye", "tear line", "lash"]);
const alone = shifting("balls deeper", oda, [0, 0, -0.004], ["eye"]);
const character: Character = { ...oda, shapes: [...oda.shapes, wide, alone] };
const found = async (c: Character) => (await runChecks(c, PROFILES.film, { only: [skeletonEyeCentre.id] })).findings;

describe("eye joints under shapes that take an eyeball along", () => {
  it("are found off, a finding a shape and eye, to what the joint is off at rest", async () => {
    const findings = await found(character);
    expect(findings.map((f) => [f.shape, f.joint, f.severity])).toEqual([
      ["eyes higher", "leftEye", "error"],
      ["eyes higher", "rightEye", "error"],
      ["balls deeper", "leftEye", "error"],
      ["balls deeper", "rightEye", "error"],
    ]);
    [6, 6, 4, 4].forEach((mm, i) => expect(Math.abs(findings[i]!.value! - mm)).toBeLessThan(0.15));
  });
  it("are told by the table as off, and refitted with the rest", async () => {
    const rows = buildShapes(character).filter((r) => [wide.name, alone.name].includes(r.name));
    expect(rows.map((r) => [r.name, (1000 * r.off).toFixed(1), r.has])).toEqual([
      ["eyes higher", "6.0", false],
      ["balls deeper", "4.0", false],
    ]);
    expect(await found(refitShapes(character, [wide.name, alone.name]))).toEqual([]);
  });
  it("are mended one by one", async () => {
    let now = character;
    for (const f of await found(character)) {
      expect(mendSentence(f)).toBe(`Sends ${f.joint} along with ${f.part} in ${f.shape}.`);
      now = mend(now, f);
    }
    expect(await found(now)).toEqual([]);
  });
  it("of a shape that turns the eyeball where it stands nothing is said", async () => {
    const [eye] = eyesOf(oda);
    const P = oda.parts[eye!.part]!.positions;
    const turned: Shape = {
      name: "look",
      label: "look",
      deltas: [
        {
          part: eye!.part,
          vertices: Uint32Array.from({ length: P.length / 3 }, (_, v) => v),
          deltas: Float32Array.from({ length: P.length }, (_, i) => {
            const v = Math.floor(i / 3);
            const [x, z] = [P[3 * v]! - eye!.centre[0], P[3 * v + 2]! - eye!.centre[2]];
            const [cos, sin] = [Math.cos(0.4), Math.sin(0.4)];
            return i % 3 === 0 ? x * cos + z * sin - x : i % 3 === 2 ? z * cos - x * sin - z : 0;
          }),
        },
      ],
    };
    expect(await found({ ...oda, shapes: [...oda.shapes, turned] })).toEqual([]);
    expect(await found(oda)).toEqual([]);
  });
});
