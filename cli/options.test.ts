import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { shapeOf, tube } from "../tests/helpers/characters";
import { PROFILES } from "../core/checks/profile";
import { collect, driverFrom, momentFrom, profileFrom } from "./options";

const limb = { ...tube(), shapes: [shapeOf("bulge", { 3: [0, 0, 0.01] }), shapeOf("a=b", { 3: [0, 0, 0.01] })] };
const moment = (
  joint: string[],
  shape: string[] = [],
  more: { method?: string; drivers?: string } = {},
): ReturnType<typeof momentFrom> => momentFrom(limb, { joint, shape, method: "linear", ...more });

describe("poses and weights of the command line", () => {
  it("are joints with three angles and shapes with a weight, any number of each", () => {
    expect(moment(["lower=10,-20.5,3e1"], ["bulge=0.25", "a=b=1"], { method: "dual", drivers: "off" })).toMatchObject({
      pose: { lower: [10, -20.5, 30] },
      weights: { bulge: 0.25, "a=b": 1 },
      method: "dual",
      drivers: false,
    });
    expect(["a", "b"].reduce((all, x) => collect(x, all), [] as string[])).toEqual(["a", "b"]);
  });
  it.each<[string, string[], string[], { method?: string; drivers?: string }, RegExp]>([
    ["two angles", ["lower=10,20"], [], {}, /3 numbers with commas/],
    ["a word", ["lower=a,b,c"], [], {}, /3 numbers/],
    ["an empty angle", ["lower=1,,2"], [], {}, /3 numbers/],
    ["no name", ["=1,2,3"], [], {}, /NAME=VALUE/],
    ["an unknown joint", ["lowr=1,2,3"], [], {}, /no joint named lowr/],
    ["part of a name", ["LOW=1,2,3"], [], {}, /Did you mean lower/],
    ["an unknown shape", [], ["smile=1"], {}, /no shape named smile/],
    ["no weight", [], ["bulge="], {}, /1 number/],
    ["another method", [], [], { method: "spherical" }, /linear or dual/],
    ["another word for drivers", [], [], { drivers: "maybe" }, /on or off/],
  ])("are refused with %s", (_, joint, shape, more, pattern) =>
    expect(() => moment(joint, shape, more)).toThrow(pattern),
  );
});

describe("drivers of the command line", () => {
  it.each<[string, readonly number[], number, number]>([
    ["lower x 40..120", [1, 0, 0], 40, 120],
    ["lower -z -10..-90", [0, 0, -1], -10, -90],
    ["lower +y 0..45.5", [0, 1, 0], 0, 45.5],
    ["lower 0,3,4 1..2", [0, 0.6, 0.8], 1, 2],
    ["  lower X 0..1 ", [1, 0, 0], 0, 1],
  ])("%s", (text, axis, from, to) => {
    const d = driverFrom(limb, text, "bulge");
    expect(d).toMatchObject({
      shape: "bulge",
      joint: "lower",
      fromDegrees: from,
      toDegrees: to,
      easing: "smooth",
      intensity: 1,
      enabled: true,
    });
    d.axis.forEach((x, i) => expect(x).toBeCloseTo(axis[i]!, 9));
  });
  it.each([
    ["lower x", /JOINT axis from/],
    ["lower w 0..1", /JOINT axis from/],
    ["lower 0,0,0 0..1", /no length/],
    ["lower 1,2 0..1", /3 numbers/],
    ["upper arm x 0..1", /no joint named upper arm/],
    ["lower x 1.2.3..4", /not a range/],
  ])("%s is refused", (text, pattern) => expect(() => driverFrom(limb, text, "bulge")).toThrow(pattern));
});

describe("profiles of the command line", () => {
  const dir = mkdtempSync(path.join(tmpdir(), "profile-"));
  const file = (name: string, text: string): string => {
    writeFileSync(path.join(dir, name), text);
    return path.join(dir, name);
  };
  it("are named, or a file of the same form", () => {
    expect(profileFrom("film")).toBe(PROFILES.film);
    const own = { ...PROFILES.realtime, limits: { ...PROFILES.realtime.limits, "face.lid-gap": 1 } };
    expect(profileFrom(file("own.json", JSON.stringify(own))).limits["face.lid-gap"]).toBe(1);
  });
  it("are refused when unknown, unreadable or of another form, with the place in the file", () => {
    expect(() => profileFrom("console")).toThrow(/not realtime, film, crowd or a \.json file/);
    expect(() => profileFrom(path.join(dir, "none.json"))).toThrow(/no such file/);
    expect(() => profileFrom(file("broken.json", "{"))).toThrow(/cannot be read as JSON/);
    expect(() =>
      profileFrom(
        file(
          "odd.json",
          JSON.stringify({ ...PROFILES.realtime, limits: { ...PROFILES.realtime.limits, "face.lid-gap": "wide" } }),
        ),
      ),
    ).toThrow(/face\.lid-gap/);
  });
});
