import { amount, checkEntry } from "../check";

/** A foot that slides while it stands; found by watching a trial. */
export const clipFootSlide = checkEntry({
  id: "clip.foot-slide",
  title: "Feet that slide while they stand",
  station: "trials",
  unit: "m/s",
  measures: "speed over the floor of what touches it, of a foot that stands; on the spot against the floor's own speed",
  severity: "warn",
  limits: { "clip.foot-slide": amount(0.1) },
  source: "our own choice",
});

/** A sole under the floor; found by watching a trial. */
export const clipUnderGround = checkEntry({
  id: "clip.under-ground",
  title: "Soles under the floor",
  station: "trials",
  unit: "mm",
  measures: "lowest place of a sole under the floor",
  severity: "warn",
  limits: {},
  limitWords: "10",
  source: "our own choice",
});

/** A joint beyond its range of motion; found by watching a trial. */
export const poseRange = checkEntry({
  id: "pose.range",
  title: "Joints beyond their range of motion",
  station: "trials",
  unit: "deg",
  measures: "angle along a joint's motion beyond its range by more than 3 degrees",
  severity: "note",
  limits: {},
  limitWords: "the joint's range",
  source: "AAOS; Greene & Heckman 1994 (ranges of motion)",
});

/** Shapes that play against each other; found by watching a trial. */
export const pairOpposed = checkEntry({
  id: "pair.opposed",
  title: "Shapes that pull against each other",
  station: "trials",
  unit: "%",
  measures: "share of a shape's movement that others, playing at the same moment, take back; both at 0.4 or more",
  severity: "warn",
  limits: { "pair.opposed": amount(70) },
  source: "our own choice: a drawn brow takes back 65 % of a raised one and is meant, a pucker 90 % of a smile",
});
