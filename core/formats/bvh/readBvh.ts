import { fromAxisAngle, multiplyQuat } from "../../math/quat";
import type { Quat, Vec3 } from "../../math/vec3";
import { NO_JOINT } from "../../model/character";
import { uniqueName } from "../../model/uniqueName";
import { UserError } from "../../model/userError";
import { within } from "../../model/budget";

const CHANNELS = ["Xposition", "Yposition", "Zposition", "Xrotation", "Yrotation", "Zrotation"] as const;
type Channel = (typeof CHANNELS)[number];
const AXIS: Readonly<Record<string, Vec3>> = { X: [1, 0, 0], Y: [0, 1, 0], Z: [0, 0, 1] };
/** The six that a joint can have, and some that stand twice. */
const MOST_CHANNELS = 12;

export interface BvhJoint {
  readonly name: string;
  /** Index of the joint it hangs on, or NO_JOINT. */
  readonly parent: number;
  /** From the joint it hangs on at rest, in the file's unit. */
  readonly offset: Vec3;
  readonly channels: readonly Channel[];
  /** Where its values begin in a frame. */
  readonly at: number;
}
export interface Bvh {
  /** Parents come before children; end sites are left out. */
  readonly joints: readonly BvhJoint[];
  readonly frameSeconds: number;
  readonly frames: number;
  readonly width: number;
  /** frames x width, degrees and the file's unit. */
  readonly values: Float32Array;
}

interface Token {
  readonly word: string;
  readonly line: number;
}
const wrong = (what: string, file: string, line: number): UserError =>
  new UserError(`${what} (line ${line})`, file, "Export the clip as BVH again.");
const cutOff = (what: string, file: string): UserError =>
  new UserError(what, file, "The file was cut off: send it again.");

/**
 * Reads BVH text: a hierarchy of offsets and channels, then frames of numbers.
 * Source: the format's description by its makers' manual, from memory; checked against three.js's reader in the tests.
 * @throws UserError naming the line where the text stops making sense.
 */
export function readBvh(text: string, file: string): Bvh {
  const lines = text.split(/\r?\n/);
  const motionAt = lines.findIndex((line) => /^\s*MOTION\s*$/.test(line));
  const tokens = lines
    .slice(0, motionAt < 0 ? lines.length : motionAt)
    .flatMap((line, i) => (line.match(/\S+/g) ?? []).map((word): Token => ({ word, line: i + 1 })));
  if (tokens[0]?.word !== "HIERARCHY")
    throw new UserError("It does not begin with HIERARCHY: this is not a BVH file.", file, "Export the clip as BVH.");
  if (motionAt < 0) throw cutOff("The part with the frames (MOTION) is missing.", file);
  const { joints, width } = readHierarchy(new Tokens(tokens.slice(1), file, motionAt), file);
  if (width === 0)
    throw new UserError(
      "No joint of it moves: there are no channels.",
      file,
      "Export the clip as BVH with its channels.",
    );
  const frames = Number(/^\s*Frames:\s*(\d+)/.exec(lines[motionAt + 1] ?? "")?.[1] ?? NaN);
  const frameSeconds = Number(/^\s*Frame Time:\s*([\d.eE+-]+)/.exec(lines[motionAt + 2] ?? "")?.[1] ?? NaN);
  if (!Number.isInteger(frames) || frames < 1) throw wrong("The number of frames is missing", file, motionAt + 2);
  if (!(frameSeconds > 0 && frameSeconds < 10))
    throw wrong("The time of a frame is missing or not believable", file, motionAt + 3);
  // what is promised must be there, two bytes a number at least, before memory is taken for it
  within("clipNumbers", frames * Math.max(width, 4 * joints.length), file, "Cut it into shorter clips.");
  if (frames * width > text.length)
    throw cutOff(`It promises ${frames} frames of ${width} numbers and is too short for them.`, file);
  return { joints, frameSeconds, frames, width, values: readFrames(lines, motionAt + 3, frames, width, file) };
}

/** The words of the hierarchy, one after the other. */
class Tokens {
  private at = 0;
  constructor(
    private readonly tokens: readonly Token[],
    private readonly file: string,
    private readonly lastLine: number,
  ) {}

  next(): Token {
    const token = this.tokens[this.at++];
    if (!token) throw wrong("The hierarchy ends too early", this.file, this.lastLine);
    return token;
  }
  expect(...words: readonly string[]): void {
    for (const word of words) {
      const token = this.next();
      if (token.word !== word) throw wrong(`"${token.word}" stands where ${word} should`, this.file, token.line);
    }
  }
  numbers(count: number): number[] {
    return Array.from({ length: count }, () => {
      const token = this.next();
      const x = Number(token.word);
      if (!Number.isFinite(Math.fround(x))) throw wrong(`"${token.word}" is not a number`, this.file, token.line);
      return x;
    });
  }
  channels(): Channel[] {
    const { line } = this.tokens[this.at - 1]!;
    const [count] = this.numbers(1) as [number];
    if (!Number.isInteger(count) || count < 0 || count > MOST_CHANNELS)
      throw wrong(`A joint has ${count} channels`, this.file, line);
    return Array.from({ length: count }, () => {
      const c = this.next();
      if (!(CHANNELS as readonly string[]).includes(c.word))
        throw wrong(`"${c.word}" is not a channel`, this.file, c.line);
      return c.word as Channel;
    });
  }
}

function readHierarchy(tokens: Tokens, file: string): { joints: BvhJoint[]; width: number } {
  let width = 0;
  const joints: BvhJoint[] = [];
  const taken = new Set<string>();
  const readJoint = (parent: number, given: string, depth: number): void => {
    within("joints", joints.length + 1, file, "Export the body alone.");
    within("depth", depth, file, "Export the body alone.");
    const name = uniqueName(given, taken, "joint");
    tokens.expect("{", "OFFSET");
    const offset = tokens.numbers(3) as unknown as Vec3;
    const index = joints.length;
    joints.push({ name, parent, offset, channels: [], at: width });
    for (let token = tokens.next(); token.word !== "}"; token = tokens.next()) {
      if (token.word === "CHANNELS") {
        const channels = tokens.channels();
        joints[index] = { ...joints[index]!, channels, at: width };
        width += channels.length;
      } else if (token.word === "JOINT") readJoint(index, tokens.next().word, depth + 1);
      else if (token.word === "End") {
        tokens.expect("Site", "{", "OFFSET");
        tokens.numbers(3);
        tokens.expect("}");
      } else throw wrong(`"${token.word}" stands where JOINT, CHANNELS or a closing brace should`, file, token.line);
    }
  };
  tokens.expect("ROOT");
  readJoint(NO_JOINT, tokens.next().word, 1);
  return { joints, width };
}

function readFrames(lines: readonly string[], from: number, frames: number, width: number, file: string): Float32Array {
  const values = new Float32Array(frames * width);
  let n = 0;
  for (let i = from; i < lines.length && n < values.length; i++)
    for (const word of lines[i]!.trim().split(/\s+/)) {
      if (!word) continue;
      const x = Number(word);
      if (!Number.isFinite(Math.fround(x))) throw wrong(`"${word}" is not a number`, file, i + 1);
      if (n < values.length) values[n++] = x;
    }
  if (n < values.length)
    throw cutOff(`It promises ${frames} frames and holds ${Math.floor(n / Math.max(1, width))}.`, file);
  return values;
}

/** Turn of a joint in a frame, in its own rest frame, which lies along the axes of space. */
export function bvhTurn({ values, width }: Bvh, joint: BvhJoint, frame: number): Quat {
  let q: Quat = [0, 0, 0, 1];
  joint.channels.forEach((channel, k) => {
    if (channel.endsWith("rotation"))
      q = multiplyQuat(q, fromAxisAngle(AXIS[channel[0]!]!, values[frame * width + joint.at + k]!));
  });
  return q;
}

/** Movement of a joint in a frame from its channels, in the file's unit, or null where it has none. */
export function bvhMove({ values, width }: Bvh, joint: BvhJoint, frame: number): Vec3 | null {
  const at = (axis: string): number => joint.channels.indexOf(`${axis}position` as Channel);
  const k = ["X", "Y", "Z"].map(at);
  return k.every((i) => i >= 0) ? (k.map((i) => values[frame * width + joint.at + i]!) as unknown as Vec3) : null;
}
