import { type Character, vertexCountOf } from "../model/character";

/** Every joint that is not the head or under it, with the share of each body vertex that it and all under it hold. */
export function limbsOf(character: Character, head: number | undefined): { joint: number; share: Float32Array }[] {
  const { joints } = character.skeleton!;
  const body = character.parts.find((p) => p.kind === "body" && p.skin)!;
  const { influenceCount, joints: bound, weights } = body.skin!;
  const under = joints.map((_, j) => {
    const chain = new Set<number>();
    for (let k = j; k >= 0; k = joints[k]!.parent) chain.add(k);
    return chain;
  });
  return joints.flatMap((joint, j) => {
    if (joint.parent < 0 || (head !== undefined && under[j]!.has(head))) return [];
    const share = new Float32Array(vertexCountOf(body));
    let any = false;
    const holds = joints.map((_, k) => under[k]!.has(j));
    for (let v = 0, n = 0; v < share.length; v++)
      for (let k = 0; k < influenceCount; k++, n++) {
        if (weights[n]! > 0 && holds[bound[n]!]) {
          share[v]! += weights[n]!;
          any = true;
        }
      }
    return any ? [{ joint: j, share }] : [];
  });
}
