import { smoothMax, smoothMin } from "../../modelling/blend";
import type { Field } from "../../modelling/fields";
import { joining } from "../../modelling/joining";
import { armForm, overArm } from "./armForm";
import { footForm, legCore, legForm } from "./legForm";
import { GLUTE_MASSES, midlineFurrows, torsoForm, TORSO_MASSES } from "./torsoForm";

const withFlesh = joining(TORSO_MASSES);
const withGlutes = joining(GLUTE_MASSES);

/** The whole body without head and hands; both sides alike. Metres, y up from the ground. */
export const bodyForm: Field = (signedX, y, z) => {
  const x = Math.abs(signedX);
  let d = 1;
  // on the arm the trunk, and under the arm the arm, is farther than any seam
  if (y > 0.7 && x < 0.28) d = withFlesh(torsoForm(x, y, z), x, y, z);
  if (y < 0.95) {
    const leg = legForm(x, y, z);
    d = y > 0.7 ? withGlutes(smoothMin(d, leg, 0.045), x, y, z) : leg;
  }
  if (y < 0.16) d = smoothMax(smoothMin(d, footForm(x, y, z), 0.02), -y, 0.006);
  if (x > 0.08 && y > 0.85 && (d > 0.04 || overArm(x, y) > -0.14)) d = smoothMin(d, armForm(x, y, z), 0.028);
  return d + midlineFurrows(x, y, z);
};

/** Trunk and hips alone, for placing the trunk's rows before the arm has its own. */
export const trunkForm: Field = (x, y, z) => {
  const d = withFlesh(torsoForm(x, y, z), x, y, z);
  return y < 0.95 ? withGlutes(smoothMin(d, legCore(x, y, z), 0.03), x, y, z) : d;
};
