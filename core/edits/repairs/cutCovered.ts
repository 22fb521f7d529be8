import { makeRig } from "../../deform/rig";
import { makeClothGauge } from "../../measure/clothThrough";
import type { Character } from "../../model/character";
import { neighboursOf } from "../../model/neighbours";
import { facesOf } from "../../model/withFaces";
import { UserError } from "../../model/userError";
import { partNamed } from "../mend/places";
import { refaced } from "./refaceParts";

/**
 * Leaves out the faces of the body that a garment covers at rest by at least a depth, but for a margin of one ring
 * where the cover ends: what is not there cannot come through.
 * @param depth metres of cloth over the skin. @throws UserError when nothing is covered so deep.
 */
export function cutCovered(character: Character, garment: string, depth: number): Character {
  const { index } = partNamed(character, garment);
  const gauge = makeClothGauge(makeRig(character), index);
  const hidden = new Set(gauge?.covered.filter((c) => -c.rest >= depth).map((c) => c.vertex));
  if (!gauge || hidden.size === 0)
    throw new UserError(
      `${garment} covers no skin by ${(1000 * depth).toFixed(1)} mm.`,
      "covered skin",
      "Ask for less cover.",
    );
  const body = character.parts[gauge.body]!;
  const { start, list } = neighboursOf(body);
  const inner = new Set(
    [...hidden].filter((v) => Array.from(list.subarray(start[v]!, start[v + 1]!)).every((w) => hidden.has(w))),
  );
  const faces = facesOf(body);
  const kept = faces.filter((f) => !f.corners.every((v) => inner.has(v)));
  if (kept.length === faces.length)
    throw new UserError(
      `No whole face lies under ${garment} by ${(1000 * depth).toFixed(1)} mm.`,
      "covered skin",
      "Ask for less cover.",
    );
  return refaced(character, gauge.body, kept);
}
