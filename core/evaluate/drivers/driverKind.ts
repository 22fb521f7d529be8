import type { Character } from "../../model/character";
import type { Turns } from "../turns";
import type { DriverGroup } from "../../model/poseDriver";

/** What drivers read: how the joints are turned, and the weights as far as they are known. */
export interface DriverView {
  /** 4 x jointCount. */
  readonly turns: Turns;
  /** By shape, in shape order: what was set, and what drivers before this one added. */
  readonly weights: Float32Array;
}

/** A driver made ready for one character: adds what it gives to the weights of the view. */
export interface ReadyDriver {
  readonly group: DriverGroup;
  readonly act: (view: DriverView) => void;
}

/** One kind of driver: finds its own in a character. Those whose shape is gone are left out. */
export interface DriverKind {
  readonly name: string;
  readonly ready: (character: Character, shapeIndex: ReadonlyMap<string, number>) => readonly ReadyDriver[];
}
