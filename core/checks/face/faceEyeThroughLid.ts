import { pushLidsOut } from "../../edits/mend/mendFace";
import { amount, check } from "../check";
import { eyesThroughLids } from "../../measure/eyesThroughLids";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding } from "../finding";

/** Depth of the eyeball beyond the lid's skin under each shape at full, beyond what is there at rest. */
export const faceEyeThroughLid = check({
  id: "face.eye-through-lid",
  title: "Eyeball through the lid",
  station: "shapes",
  unit: "mm",
  measures: "depth of the lids' skin in the eyeball at each shape at full, beyond rest",
  severity: "error",
  limits: { "face.eye-through-lid": amount(0.1) },
  source: "our own choice: 0.1 mm",
  waitsFor: "stance and size",
  mend: {
    says: (f) => `Pushes the lids in ${f.shape} out along the eyeball, both layers together, until they lie on it.`,
    apply: (c, f) => pushLidsOut(c, f.shape!, f.part!),
  },
  run: (character, { limits }) => {
    const limit = limits["face.eye-through-lid"];
    const body = character.parts.find((p) => p.kind === "body");
    if (limit === null || !body) return [];
    return shapesAsSeen(character).flatMap((shape) =>
      eyesThroughLids(character, shape, limit).map(({ eye, through }) => {
        const worst = through[0]![1];
        return finding({
          check: "face.eye-through-lid",
          severity: "error",
          shape: shape.name,
          part: body.name,
          vertices: through.map(([v]) => v),
          value: worst,
          unit: "mm",
          limit,
          message:
            `${character.parts[eye]!.name} comes ${worst.toFixed(2)} mm through ` +
            `the lid at ${shape.label}; push the lid out along the eyeball.`,
        });
      }),
    );
  },
});
