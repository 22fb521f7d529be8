/** Drivers of a hand-off for players that know none; see drivers.mjs. */
export type Quaternion = readonly [x: number, y: number, z: number, w: number];

export interface Drivers {
  /** Turns away from rest of the joints that share a twist, by name. @param turnOf as for `weightsOf`. */
  twistsOf(turnOf: (joint: string) => Quaternion | undefined): Map<string, Quaternion>;
  /**
   * Weights of all shapes that are set or driven.
   * @param turnOf a joint's turn away from rest, in its own frame, by its name: conjugate(rest) x present local
   * rotation; undefined for one that is not there.
   * @param set weights that the animator sets, by shape.
   */
  weightsOf(
    turnOf: (joint: string) => Quaternion | undefined,
    set?: Readonly<Record<string, number>>,
  ): Map<string, number>;
}

/** @param extras `extras.yxomorph` of a hand-off, or its sidecar JSON. @throws Error for anything else. */
export function readDrivers(extras: unknown): Drivers;

export interface BoundFigure {
  /** Turns joints that share a twist and sets the influences of every mesh. @returns the weights by shape. */
  update(set?: Readonly<Record<string, number>>): Map<string, number>;
}

/** What a scene of three.js has of what is needed here. */
export interface SceneLike<Node> {
  traverse(visit: (object: Node) => unknown): unknown;
}

/** Binds drivers to a scene of three.js as its glTF loader makes it; rest is the pose that the scene is in now. */
export function bindThree<Node>(drivers: Drivers, root: SceneLike<Node>): BoundFigure;
