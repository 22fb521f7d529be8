import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { length, sub, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Skeleton } from "../model/character";

/**
 * Segment lengths over stature: Drillis & Contini 1966, as printed in Winter, Biomechanics and Motor Control of Human
 * Movement (from memory).
 */
const ARM_LENGTH = 0.186 + 0.146;
/**
 * From the atlas to the top of the skull is more than this over stature, from the neck's foot to the atlas less (common
 * practice, no source).
 */
const CROWN = 0.085;
/**
 * Joints of the eyes stand this far from the middle over stature, at least and at most (Dodgson 2004, half of 52 to 78
 * mm at 1.7 m).
 */
const EYE_FROM_MIDDLE = [0.012, 0.03] as const;
/** Nearer to the middle than this over stature a joint is on no side. */
const MIDDLE = 0.012;

interface Tree {
  readonly place: readonly Vec3[];
  readonly children: readonly number[][];
  readonly parent: readonly number[];
  readonly stature: number;
}

/**
 * Guesses which joint is which humanoid bone from places and tree alone, whatever the joints are called: legs end
 * lowest, arms farthest out, what they meet in are hips and chest.
 * The figure must stand about upright and face +Z with its left at +X, arms at T, at A or hanging; lengths may be in
 * any unit. @returns bone -> joint; what is not clear is left out.
 */
export function mapByGeometry(skeleton: Skeleton): Map<string, number> {
  const out = new Map<string, number>();
  const tree = treeOf(skeleton);
  if (!tree) return out;
  const feet = (["left", "right"] as const).map((side) =>
    best(
      tree,
      (j) => onSide(tree, j, side),
      (j) => -tree.place[j]![1],
    ),
  );
  if (feet.some((j) => j === null)) return out;
  const hips = meeting(tree, feet[0]!, feet[1]!);
  if (hips === NO_JOINT) return out;
  out.set("hips", hips);
  const inLegs = new Set<number>();
  (["left", "right"] as const).forEach((side, s) => {
    const path = pathDown(tree, hips, feet[s]!);
    for (const j of subtree(tree, path[0] ?? hips)) inLegs.add(j);
    mapLeg(tree, path, side, out);
  });
  const upper = (j: number): boolean => !inLegs.has(j) && j !== hips && isUnder(tree, j, hips);
  const hands = (["left", "right"] as const).map((side) =>
    best(
      tree,
      (j) => upper(j) && onSide(tree, j, side),
      (j) => Math.abs(tree.place[j]![0]),
    ),
  );
  if (hands.some((j) => j === null)) return out;
  const chest = meeting(tree, hands[0]!, hands[1]!);
  if (chest === NO_JOINT || chest === hips) return out;
  const spine = pathDown(tree, hips, chest);
  if (spine.length) out.set("spine", spine[0]!);
  if (spine.length === 2) out.set("chest", spine[1]!);
  if (spine.length >= 3) {
    out.set("chest", spine[spine.length - 2]!);
    out.set("upperChest", spine[spine.length - 1]!);
  }
  const inArms = new Set<number>();
  (["left", "right"] as const).forEach((side, s) => {
    const path = pathDown(tree, chest, hands[s]!);
    for (const j of subtree(tree, path[0] ?? chest)) inArms.add(j);
    mapArm(tree, path, side, out);
  });
  mapHead(tree, chest, (j) => upper(j) && !inArms.has(j) && isUnder(tree, j, chest), out);
  return out;
}

function treeOf(skeleton: Skeleton): Tree | null {
  const world = worldMatrices(skeleton, {});
  const place = skeleton.joints.map((_, j) => translationOf(world, 16 * j));
  const children = skeleton.joints.map((): number[] => []);
  skeleton.joints.forEach((joint, j) => joint.parent !== NO_JOINT && children[joint.parent]!.push(j));
  const heights = place.map((p) => p[1]);
  const stature = (Math.max(...heights) - Math.min(...heights)) / 0.93;
  return place.length > 8 && stature > 0
    ? { place, children, parent: skeleton.joints.map((j) => j.parent), stature }
    : null;
}

const onSide = (tree: Tree, j: number, side: "left" | "right"): boolean =>
  (side === "left" ? 1 : -1) * tree.place[j]![0] > MIDDLE * tree.stature;
const apart = (tree: Tree, a: number, b: number): number => length(sub(tree.place[a]!, tree.place[b]!));
const isUnder = (tree: Tree, j: number, top: number): boolean => {
  for (let k = j; k !== NO_JOINT; k = tree.parent[k]!) if (k === top) return true;
  return false;
};

/** The joint that passes and scores highest, the first of equals. */
function best(tree: Tree, passes: (j: number) => boolean, score: (j: number) => number): number | null {
  let found: number | null = null;
  tree.place.forEach((_, j) => {
    if (passes(j) && (found === null || score(j) > score(found) + 1e-9)) found = j;
  });
  return found;
}

function meeting(tree: Tree, a: number, b: number): number {
  for (let k = a; k !== NO_JOINT; k = tree.parent[k]!) if (isUnder(tree, b, k)) return k;
  return NO_JOINT;
}

/** Joints from below `top` down to `end`. */
function pathDown(tree: Tree, top: number, end: number): number[] {
  const path: number[] = [];
  for (let k = end; k !== top && k !== NO_JOINT; k = tree.parent[k]!) path.unshift(k);
  return path;
}

function subtree(tree: Tree, top: number): number[] {
  return [top, ...tree.children[top]!.flatMap((c) => subtree(tree, c))];
}

const nearestTo = (list: readonly number[], value: (j: number) => number, wanted: number): number | undefined =>
  list.reduce<number | undefined>(
    (b, j) => (b === undefined || Math.abs(value(j) - wanted) < Math.abs(value(b) - wanted) ? j : b),
    undefined,
  );

/** The ankle is where the way turns from down to forward; the knee stands nearest to half-way between hip and ankle. */
function mapLeg(tree: Tree, path: readonly number[], side: string, out: Map<string, number>): void {
  // a hip helper that stands on the middle is no thigh
  const limb = path.filter((j, i) => i > 0 || Math.abs(tree.place[j]![0]) > MIDDLE * tree.stature);
  if (limb.length < 3) return;
  let ankle = limb.findIndex((j, i) => {
    const next = limb[i + 1];
    if (i < 2 || next === undefined) return false;
    const d = sub(tree.place[next]!, tree.place[j]!);
    return d[2] > 0.8 * Math.abs(d[1]);
  });
  if (ankle < 0) ankle = limb.length - 1;
  const [hip, foot] = [limb[0]!, limb[ankle]!];
  const knee = nearestTo(
    limb.slice(1, ankle),
    (j) => apart(tree, hip, j) / (apart(tree, hip, j) + apart(tree, j, foot)),
    0.5,
  );
  if (knee === undefined) return;
  out.set(`${side}UpperLeg`, hip);
  out.set(`${side}LowerLeg`, knee);
  out.set(`${side}Foot`, foot);
  if (limb[ankle + 1] !== undefined) out.set(`${side}Toes`, limb[ankle + 1]!);
}

/**
 * The hand is where the fingers part, or the end of the arm; the shoulder's joint stands an arm's length above it along
 * the way.
 */
function mapArm(tree: Tree, path: readonly number[], side: string, out: Map<string, number>): void {
  // fingers have two joints and more each; what shares a turn stands alone. The shoulder's joints come first and never
  // count
  const fingers = (j: number): number =>
    tree.children[j]!.filter((c) => apart(tree, j, c) > 0.005 * tree.stature && subtree(tree, c).length > 1).length;
  const wide = path.findIndex(
    (j) =>
      tree.children[j]!.filter((c) => apart(tree, j, c) > 0.005 * tree.stature).length >= 3 &&
      subtree(tree, j).length > 5,
  );
  const branches = wide >= 0 ? wide : path.findIndex((j, i) => i >= 2 && fingers(j) >= 2);
  const wrist = branches >= 0 ? branches : wristBeforeEnd(tree, path);
  if (wrist < 2) return;
  const hand = path[wrist]!;
  const fromHand = new Map<number, number>();
  for (let i = wrist, way = 0; i >= 0; i--) {
    if (i < wrist) way += apart(tree, path[i]!, path[i + 1]!);
    fromHand.set(path[i]!, way);
  }
  const shoulder = nearestTo(path.slice(0, wrist - 1), (j) => fromHand.get(j)! / tree.stature, ARM_LENGTH);
  if (shoulder === undefined) return;
  const at = path.indexOf(shoulder);
  const whole = fromHand.get(shoulder)!;
  const elbow = nearestTo(path.slice(at + 1, wrist), (j) => fromHand.get(j)! / whole, 0.146 / ARM_LENGTH);
  if (elbow === undefined) return;
  out.set(`${side}UpperArm`, shoulder);
  out.set(`${side}LowerArm`, elbow);
  out.set(`${side}Hand`, hand);
  if (at > 0) out.set(`${side}Shoulder`, path[at - 1]!);
  if (branches >= 0) mapFingers(tree, hand, side, out);
}

/** The end of an arm without fingers, or the joint before it where that is near; of joints in one place the upper. */
function wristBeforeEnd(tree: Tree, path: readonly number[]): number {
  let wrist = path.length - 1;
  if (path.length > 4 && apart(tree, path[wrist]!, path[wrist - 1]!) < 0.08 * tree.stature) wrist--;
  while (wrist > 2 && apart(tree, path[wrist]!, path[wrist - 1]!) < 1e-3 * tree.stature) wrist--;
  return wrist;
}

/** The thumb parts from the hand first and points most to the front; the others follow from front to back. */
function mapFingers(tree: Tree, hand: number, side: string, out: Map<string, number>): void {
  const chains = tree.children[hand]!.map((c) => {
    const chain = [c];
    for (let k = c; tree.children[k]!.length > 0;) chain.push((k = tree.children[k]![0]!));
    return chain;
  }).filter((c) => c.length >= 3);
  if (chains.length < 2 || chains.length > 5) return;
  // four are taken for the fingers without a thumb, all other numbers for a thumb and those that follow it
  const thumb =
    chains.length !== 4 ? chains.reduce((a, b) => (apart(tree, hand, b[1]!) < apart(tree, hand, a[1]!) ? b : a)) : null;
  const put = (chain: readonly number[], finger: string, bones: readonly string[]): void =>
    bones.forEach((bone, i) => out.set(`${side}${finger}${bone}`, chain[i]!));
  if (thumb) put(thumb, "Thumb", ["Metacarpal", "Proximal", "Distal"]);
  const others = chains.filter((c) => c !== thumb).sort((a, b) => tree.place[b[0]!]![2] - tree.place[a[0]!]![2]);
  others.forEach((chain, i) =>
    put(chain, ["Index", "Middle", "Ring", "Little"][i]!, ["Proximal", "Intermediate", "Distal"]),
  );
}

/**
 * The head is where the eyes part from the way up the middle, or its end; eyes are a pair before it, the jaw a joint on
 * the middle below them.
 */
function mapHead(tree: Tree, chest: number, passes: (j: number) => boolean, out: Map<string, number>): void {
  const middle = (j: number): boolean => Math.abs(tree.place[j]![0]) < MIDDLE * tree.stature;
  const top = best(
    tree,
    (j) => passes(j) && middle(j),
    (j) => tree.place[j]![1],
  );
  if (top === null) return;
  const path = pathDown(tree, chest, top).filter(middle);
  const last = path.length - 1;
  const parts = [...path].reverse().find((j) => tree.children[j]!.length >= 2);
  // a joint far above the one before it, at the end of three or more, marks the top of the skull
  const crown = last >= 2 && apart(tree, path[last]!, path[last - 1]!) > CROWN * tree.stature;
  const head = parts ?? path[crown ? last - 1 : last];
  if (head === undefined) return;
  out.set("head", head);
  const at = path.indexOf(head);
  if (at > 0) out.set("neck", path[at - 1]!);
  const near = subtree(tree, head).filter((j) => j !== head);
  const eyes = (["left", "right"] as const).map(
    (side) =>
      near
        .filter(
          (j) =>
            onSide(tree, j, side) &&
            tree.children[j]!.length === 0 &&
            Math.abs(tree.place[j]![0]) / tree.stature > EYE_FROM_MIDDLE[0] &&
            Math.abs(tree.place[j]![0]) / tree.stature < EYE_FROM_MIDDLE[1] &&
            tree.place[j]![2] > tree.place[head]![2],
        )
        .sort((a, b) => tree.place[b]![2] - tree.place[a]![2])[0],
  );
  if (eyes.every((e) => e !== undefined)) {
    out.set("leftEye", eyes[0]!);
    out.set("rightEye", eyes[1]!);
    const jaw = tree.children[head]!.filter(
      (j) => middle(j) && tree.place[j]![1] < tree.place[eyes[0]!]![1] && tree.place[j]![2] > tree.place[head]![2],
    ).sort((a, b) => tree.place[a]![1] - tree.place[b]![1])[0];
    if (jaw !== undefined) out.set("jaw", jaw);
  }
}
