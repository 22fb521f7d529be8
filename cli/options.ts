import { PROFILES, profileSchema, type Profile, type ProfileName } from "../core/checks/profile";
import { REST_MOMENT, type Moment } from "../core/evaluate/moment";
import type { Character, Driver } from "../core/model/character";
import { drivenByTurn } from "../core/model/drivenByTurn";
import { parseJsonText } from "../core/model/parseJsonText";
import { readBytes } from "./readCharacter";
import { schemaFault } from "../core/model/schemaWords";
import { shortName, UserError } from "../core/model/userError";
import { normalize, type Vec3 } from "../core/math/vec3";

/** Collects a repeatable option. */
export const collect = (value: string, all: string[]): string[] => [...all, value];

const numbers = (text: string, count: number, option: string): number[] => {
  const out = text.split(",").map((x) => (x.trim() === "" ? NaN : Number(x)));
  if (out.length !== count || !out.every(Number.isFinite))
    throw new UserError(
      `"${shortName(text)}" should be ${count} number${count > 1 ? "s with commas" : ""}.`,
      option,
      "",
    );
  return out;
};
const splitAt = (text: string, option: string): [string, string] => {
  const at = text.lastIndexOf("=");
  if (at < 1) throw new UserError(`"${shortName(text)}" should read NAME=VALUE.`, option, "");
  return [text.slice(0, at), text.slice(at + 1)];
};

const known = (name: string, names: readonly string[], what: string, option: string): string => {
  if (names.includes(name)) return name;
  const near = names
    .filter((n) => n.toLowerCase().includes(name.toLowerCase()) || name.toLowerCase().includes(n.toLowerCase()))
    .slice(0, 3);
  throw new UserError(
    `There is no ${what} named ${shortName(name)}.`,
    option,
    near.length ? `Did you mean ${near.join(", ")}?` : `See inspect for the ${what}s.`,
  );
};

export interface MomentOptions {
  joint: string[];
  shape: string[];
  method: string;
  drivers?: string;
}

/** Farther than this a shape is never played. */
const MOST_WEIGHT = 100;

/** Pose, shapes and method from the command line; names must exist. */
export function momentFrom(character: Character, options: MomentOptions): Moment {
  const jointNames = (character.skeleton?.joints ?? []).map((j) => j.name);
  const pose = Object.fromEntries(
    options.joint.map((text) => {
      const [name, value] = splitAt(text, "--joint");
      return [known(name, jointNames, "joint", "--joint"), numbers(value, 3, "--joint") as unknown as Vec3];
    }),
  );
  const weights = Object.fromEntries(
    options.shape.map((text) => {
      const [name, value] = splitAt(text, "--shape");
      const weight = numbers(value, 1, "--shape")[0]!;
      if (Math.abs(weight) > MOST_WEIGHT)
        throw new UserError(
          `Weight ${weight} of ${shortName(name)} is beyond ${MOST_WEIGHT}.`,
          "--shape",
          "Weights are 0 to 1.",
        );
      if (weight < 0 || weight > 1)
        process.stderr.write(
          `yxomorph: --shape: weight ${weight} of ${shortName(name)} lies outside 0 to 1; it is played as given.\n`,
        );
      return [
        known(
          name,
          character.shapes.map((s) => s.name),
          "shape",
          "--shape",
        ),
        weight,
      ];
    }),
  );
  if (options.method !== "linear" && options.method !== "dual")
    throw new UserError(`"${options.method}" is not linear or dual.`, "--method", "");
  if (options.drivers !== undefined && !["on", "off"].includes(options.drivers))
    throw new UserError(`"${options.drivers}" is not on or off.`, "--drivers", "");
  return { ...REST_MOMENT, pose, weights, method: options.method, drivers: options.drivers !== "off" };
}

const AXES: Record<string, Vec3> = {
  x: [1, 0, 0],
  y: [0, 1, 0],
  z: [0, 0, 1],
  "-x": [-1, 0, 0],
  "-y": [0, -1, 0],
  "-z": [0, 0, -1],
};

/** `JOINT axis from..to`; axis is x, y, z, one of them with a minus, or three numbers with commas. */
export function driverFrom(character: Character, text: string, shape: string): Driver {
  const match = /^(.+?)\s+([+-]?[xyz]|[-\d.,eE]+)\s+(-?[\d.]+)\.\.(-?[\d.]+)$/i.exec(text.trim());
  if (!match)
    throw new UserError(
      `"${shortName(text)}" should read "JOINT axis from..to", as in "leftLowerArm x 40..120".`,
      "--driver",
      "",
    );
  const [, joint, axisText, from, to] = match as unknown as [string, string, string, string, string];
  const axis =
    AXES[axisText.toLowerCase().replace("+", "")] ?? normalize(numbers(axisText, 3, "--driver") as unknown as Vec3);
  if (axis.every((x) => x === 0)) throw new UserError("The axis has no length.", "--driver", "");
  const limits = [Number(from), Number(to)];
  if (!limits.every(Number.isFinite))
    throw new UserError(`"${from}..${to}" is not a range of degrees.`, "--driver", "");
  if (limits[0] === limits[1])
    throw new UserError(`The range ${from}..${to} has no length.`, "--driver", "Give two different angles.");
  const joints = (character.skeleton?.joints ?? []).map((j) => j.name);
  return { shape, ...drivenByTurn({ joint: known(joint, joints, "joint", "--driver"), axis }, limits[0]!, limits[1]!) };
}

export function profileFrom(name: string): Profile {
  if (Object.hasOwn(PROFILES, name)) return PROFILES[name as ProfileName];
  if (!name.endsWith(".json"))
    throw new UserError(`"${shortName(name)}" is not realtime, film, crowd or a .json file.`, "--profile", "");
  const json = parseJsonText(new TextDecoder().decode(readBytes(name)), name, "The profile cannot be read as JSON.");
  const parsed = profileSchema.safeParse(json);
  if (!parsed.success) {
    const { what, where } = schemaFault(parsed.error);
    throw new UserError(`The profile does not fit: ${what}.`, `${name}, ${where}`, "See docs/checks.md.");
  }
  return parsed.data;
}
