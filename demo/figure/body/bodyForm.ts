import { smoothMax, smoothMin } from "../../modelling/blend";
import { joinMasses, type Field } from "../../modelling/fields";
import { armForm } from "./armForm";
import { footForm, legCore, legForm } from "./legForm";
import { GLUTE_MASSES, midlineFurrows, torsoForm, TORSO_MASSES } from "./torsoForm";

/** The whole body without head and hands; both sides alike. Metres, y up from the ground. */
export const bodyForm: Field = (signedX, y, z) => {
  const x = Math.abs(signedX);
  let d = 1;
  if (y > 0.7) d = joinMasses(torsoForm(x, y, z), TORSO_MASSES, x, y, z);
  if (y < 0.95) {
    const leg = legForm(x, y, z);
    d = y > 0.7 ? joinMasses(smoothMin(d, leg, 0.045), GLUTE_MASSES, x, y, z) : leg;
  }
  if (y < 0.16) d = smoothMax(smoothMin(d, footForm(x, y, z), 0.02), -y, 0.006);
  if (x > 0.08 && y > 0.85) d = smoothMin(d, armForm(x, y, z), 0.028);
  return d + midlineFurrows(x, y, z);
};

/** Trunk and hips alone, for placing the trunk's rows before the arm has its own. */
export const trunkForm: Field = (x, y, z) => {
  const d = joinMasses(torsoForm(x, y, z), TORSO_MASSES, x, y, z);
  return y < 0.95 ? joinMasses(smoothMin(d, legCore(x, y, z), 0.03), GLUTE_MASSES, x, y, z) : d;
};
