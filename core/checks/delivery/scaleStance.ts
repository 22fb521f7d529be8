import { AXIS_VECTORS } from "../../model/axes";
import { spanAlong, stanceOf } from "../../measure/stance";
import { finding, type Check } from "../finding";

/**
 * Checks that tell sides, front or height by the axes of space, or sizes in metres: they wait while the figure stands
 * otherwise or is in another unit.
 */
export const WAIT_FOR_STANCE =
  /^(scale\.stature|scale\.proportion|eyes\.|skeleton\.(names|symmetry|straight-hinge|parenting|eye-centre)|weights\.(symmetry|stray)|shapes\.(side-leak|symmetry|alike|pose-baked|coverage|followers|joints|flip|noise)|face\.)/;

/** Figures that lie down, stand on their head or look elsewhere than to +Z. */
export const scaleStance: Check = {
  id: "scale.stance",
  title: "Upright, facing front",
  unit: "figures",
  source: "glTF 2.0 specification, 3.4: +Y is up, the front of an asset faces +Z",
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
};
