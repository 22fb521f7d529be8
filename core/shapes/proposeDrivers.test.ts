import { loadMember } from "../../demo/cast";
import { applyStep } from "../ledger/applyStep";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { dot } from "../math/vec3";
import type { Character } from "../model/character";
import { renameThings } from "../edits/names/renameThings";
import { proposeDrivers } from "./proposeDrivers";

const wick = await loadMember("wick");
const bare: Character = { ...wick, drivers: [], shapeDrivers: [], mixes: [] };
const correctives = wick.drivers.filter((d) => Math.abs(d.toDegrees) > 10);
const motions = jointMotions(wick.skeleton!, humanoidMap(wick.skeleton!, wick.jointMap));
/** Another maker's names: side, limb, direction and angle. */
const named = (c: Character): Character =>
  renameThings(
    c,
    "shapes",
    new Map(
      correctives.map((d, i) => {
        const motion = motions.find((m) => m.joint === d.joint && Math.abs(dot(m.axis, d.axis)) > 0.9)!;
        const degrees = Math.sign(dot(motion.axis, d.axis)) * d.toDegrees;
        return [
          d.shape,
          `${motion.label.replaceAll(" ", "_")}_${degrees < 0 ? "minus_" : ""}${Math.abs(degrees)}_v${i}`,
        ];
      }),
    ),
  );

describe("drivers proposed for shapes that nothing sets", () => {
  const taken = named(bare);
  const found = proposeDrivers(taken);
  it("find the joint and angle that the name says, where the shape moves the flesh", () => {
    const right = found.filter((p) => {
      const i = Number(/_v(\d+)$/.exec(p.shape)?.[1] ?? -1);
      return p.driver !== null && correctives[i]?.joint === p.driver.joint;
    });
    expect(right.length).toBeGreaterThan(0.8 * correctives.length);
    for (const p of right) {
      const own = correctives[Number(/_v(\d+)$/.exec(p.shape)![1])]!;
      expect(Math.abs(Math.abs(p.driver!.toDegrees) - Math.abs(own.toDegrees))).toBeLessThan(1);
    }
    expect(found.filter((p) => p.driver !== null && !right.includes(p))).toEqual([]);
    const bends = right.filter((p) => /LowerLeg|LowerArm/.test(p.driver!.joint));
    for (const p of bends)
      expect(Math.abs(dot(p.driver!.axis, correctives[Number(/_v(\d+)$/.exec(p.shape)![1])]!.axis))).toBeGreaterThan(
        0.9,
      );
  });
  it("propose combinations by names that are joined of others", () => {
    const rules = found.filter((p) => p.rule !== null);
    for (const p of rules) expect(p.rule!.of.every((n) => p.shape.includes(n))).toBe(true);
    const ab = proposeDrivers({
      ...bare,
      shapes: [
        ...bare.shapes,
        { ...bare.shapes[0]!, name: `${bare.shapes[0]!.name}_${bare.shapes[1]!.name}`, label: "both" },
      ],
    });
    expect(ab.find((p) => p.shape === `${bare.shapes[0]!.name}_${bare.shapes[1]!.name}`)!.rule).toMatchObject({
      of: [bare.shapes[0]!.name, bare.shapes[1]!.name],
      rule: "product",
    });
  });
  it("leave faces alone, and what is driven already", () => {
    const face = bare.shapes
      .filter(
        (s) => !wick.drivers.some((d) => d.shape === s.name) && !wick.shapeDrivers.some((d) => d.shape === s.name),
      )
      .map((s) => s.name);
    expect(proposeDrivers(taken).filter((p) => p.driver !== null && face.includes(p.shape))).toEqual([]);
    expect(proposeDrivers(wick).filter((p) => p.driver !== null)).toEqual([]);
  });
  it("are put on one by one or all, survive a file, and come off again", async () => {
    const all = found.reduce(
      (c, p) =>
        applyStep(
          c,
          {
            op: "drive shapes",
            items: [
              {
                name: p.shape,
                driver: p.driver && { ...p.driver, axis: [...p.driver.axis] },
                rule: p.rule && { ...p.rule, of: [...p.rule.of] },
              },
            ],
          },
          () => undefined,
        ),
      taken,
    );
    expect(all.drivers.length).toBe(found.filter((p) => p.driver).length);
    const again = await readGlb(await writeGlb(all), "wick.glb");
    expect(again.drivers.map((d) => d.shape)).toEqual(all.drivers.map((d) => d.shape));
    const off = applyStep(
      all,
      { op: "drive shapes", items: [{ name: found[0]!.shape, driver: null, rule: null }] },
      () => undefined,
    );
    expect(off.drivers.length + off.shapeDrivers.length).toBe(all.drivers.length + all.shapeDrivers.length - 1);
    expect(() =>
      applyStep(all, { op: "drive shapes", items: [{ name: "gone", driver: null, rule: null }] }, () => undefined),
    ).toThrow(/no shape named gone/);
    expect(() =>
      applyStep(
        all,
        {
          op: "drive shapes",
          items: [
            { name: found[0]!.shape, driver: null, rule: { of: [found[0]!.shape], rule: "product", enabled: true } },
          ],
        },
        () => undefined,
      ),
    ).toThrow(/cannot set itself/);
  });
});
