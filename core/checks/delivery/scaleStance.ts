import { standAsFound } from "../../edits/mend/mendStance";
import { check } from "../check";
import { AXIS_VECTORS } from "../../model/axes";
import { spanAlong, stanceOf } from "../../measure/stance";
import { finding } from "../finding";

/** Figures that lie down, stand on their head or look elsewhere than to +Z. */
export const scaleStance = check({
  id: "scale.stance",
  title: "Upright, facing front",
  station: "intake",
  unit: "figures",
  measures:
    "whether the figure stands upright and faces the front, by head over hips, toes before ankles, " +
    ("eyes and teeth in the head; while it does not, checks that " +
      "tell sides, heights and sizes wait, and one click stands it up"),
  severity: "error",
  limits: {},
  limitWords: "+Y up, +Z front",
  source: "glTF 2.0 specification, 3.4: +Y is up, the front of an asset faces +Z",
  mend: {
    says: () => "Turns the whole figure upright, its face to the front: mesh, skeleton, shapes and clips together.",
    apply: (c) => standAsFound(c),
  },
  run: (character, { humanoid }) => {
    const stance = stanceOf(character, humanoid);
    if (!stance || (stance.up === "+Y" && stance.front === "+Z")) return [];
    const body = character.parts.filter((p) => p.kind === "body");
    const tall = Math.max(
      0,
      ...(body.length ? body : character.parts).map((p) => spanAlong(p, AXIS_VECTORS[stance.up])),
    );
    const words =
      stance.up === "+Y"
        ? `faces ${stance.front}${stance.front === "-Z" ? ", backward" : ", to the side"}`
        : `${stance.up === "-Y" ? "stands on its head" : `lies down: its crown points to ${stance.up}`}, ` +
          `and its face to ${stance.front}`;
    return [
      finding({
        check: "scale.stance",
        severity: "error",
        unit: "figures",
        message:
          `The figure, ${Number(tall.toPrecision(3))} m from crown to sole, ${words}. ` +
          "Stand it up; checks that tell sides, heights and the front wait for that.",
      }),
    ];
  },
});
