import { dot, sub, type Vec3 } from "../../../core/math/vec3";
import { bell, smoothstep } from "../../modelling/blend";
import { UPPER_ARM_LENGTH } from "../body/armForm";
import { FINGERS, HAND_UP, THUMB, WRIST, type Digit } from "../body/handForm";
import type { HeadPlace } from "../head/headTags";
import { LID_RINGS } from "../head/lidShape";
import { worldToHead } from "../placement";
import type { Skin } from "../skin/buildSkin";
import type { SkinTag } from "../skin/skinTags";
import { BROW_LINE } from "./brows";
import { colour, mixColour } from "./colour";

const [SKIN, CHEEK, PINK, LIP, DARK] = [
  colour(222, 172, 146),
  colour(221, 150, 128),
  colour(205, 125, 110),
  colour(192, 102, 96),
  colour(70, 28, 26),
];
const [LID, LID_EDGE, LID_INSIDE, LIP_INSIDE, BAG, UNDER_BROW] = [
  colour(190, 135, 115),
  colour(150, 85, 75),
  colour(205, 130, 120),
  colour(150, 60, 58),
  colour(128, 52, 50),
  colour(120, 86, 68),
];
const [UNDERSUIT, NAIL] = [colour(58, 66, 80), colour(242, 196, 186)];

/** Undersuit: trunk up to the collarbones, thighs to the middle. */
const isUndersuit = (tag: SkinTag): boolean =>
  (tag.region === "torso" && (tag.crotch === true || tag.row <= 25)) || (tag.region === "leg" && tag.ring <= 5);

/** Colour of every skin vertex, linear RGB. */
export const skinColours = (skin: Skin): Vec3[] =>
  skin.points.map((p, v) => {
    const tag = skin.tags[v]!;
    if (tag.region === "head") return headColour(worldToHead(p), tag.head);
    return isUndersuit(tag) ? UNDERSUIT : bodyColour(p, tag);
  });

function headColour([signedX, y, z]: Vec3, place: HeadPlace): Vec3 {
  const x = Math.abs(signedX);
  let c = SKIN;
  if (z > 30) c = mixColour(c, CHEEK, 0.55 * Math.exp(-(((x - 42) / 16) ** 2 + ((y + 26) / 14) ** 2)));
  if (z > 85)
    c = mixColour(c, DARK, 0.85 * Math.exp(-(((x - 6) / 2.6) ** 2 + ((y + 45.4) / 2.4) ** 2 + ((z - 96) / 4.5) ** 2)));
  if (z > 90) c = mixColour(c, PINK, 0.35 * Math.exp(-((x / 12) ** 2 + ((y + 38) / 9) ** 2)));
  if (place.zone === "lid") {
    c = mixColour(c, LID, 0.25 * smoothstep(1, 5, place.ring));
    if (place.inner) c = LID_INSIDE;
    else if (place.ring >= LID_RINGS) c = mixColour(c, LID_EDGE, 0.6);
  }
  if (place.zone === "mouth") {
    const layers: Record<typeof place.layer, Vec3> = {
      skin: c,
      border: mixColour(c, LIP, 0.6),
      lip: LIP,
      seam: mixColour(LIP, DARK, 0.55),
      "inner lip": LIP_INSIDE,
      bag: BAG,
    };
    c = layers[place.layer];
  }
  if (z > 55 && y > 8 && y < 28) c = mixColour(c, UNDER_BROW, 0.55 * (1 - smoothstep(0.5, 1.5, browDistance(x, y))));
  if (place.zone === "ear") c = mixColour(c, PINK, place.ring >= 9 ? 0.6 : 0.3);
  return c;
}

/** Distance from the brow's middle line in half widths. */
function browDistance(x: number, y: number): number {
  let least = 9;
  for (let s = 0; s <= 1; s += 0.04)
    least = Math.min(least, Math.hypot(x - BROW_LINE.x(s), y - BROW_LINE.y(s)) / (BROW_LINE.width(s) + 0.6));
  return least;
}

function bodyColour(p: Vec3, tag: SkinTag): Vec3 {
  const onLeft: Vec3 = [Math.abs(p[0]), p[1], p[2]];
  const pinker = (share: number): Vec3 => mixColour(SKIN, PINK, share);
  switch (tag.region) {
    case "finger":
      return mixColour(pinker(0.18), NAIL, isNail(onLeft, FINGERS[tag.finger]!) ? 0.85 : 0);
    case "thumb":
      return mixColour(pinker(0.18), NAIL, isNail(onLeft, THUMB) ? 0.85 : 0);
    case "foot":
      return pinker(p[1] < 0.012 ? 0.27 : 0.12);
    case "palm":
      return dot(sub(onLeft, WRIST), HAND_UP) < 0 ? pinker(0.25) : SKIN;
    case "arm":
      return pinker(0.2 * bell(tag.along - UPPER_ARM_LENGTH, 0.03));
    case "leg":
      return pinker(0.15 * bell(p[1] - 0.485, 0.035) * (p[2] > 0 ? 1 : 0.4));
    default:
      return SKIN;
  }
}

function isNail(p: Vec3, { points, directions, ups, lengths, radii }: Digit): boolean {
  const from = sub(p, points[2]);
  const along = dot(from, directions[2]) / lengths[2];
  return along > 0.4 && along < 0.97 && dot(from, ups[2]) / radii[2] > 0.3;
}
