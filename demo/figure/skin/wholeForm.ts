import { smoothMin } from "../../modelling/blend";
import type { Field } from "../../modelling/fields";
import { bodyForm } from "../body/bodyForm";
import { neckSeam, skullForm } from "../head/headForm";
import { HEAD_UNIT, worldToHead } from "../placement";

/** Head and body in one form, metres. */
export const wholeForm: Field = (x, y, z) => {
  const [hx, hy, hz] = worldToHead([x, y, z]);
  return smoothMin(bodyForm(x, y, z), y > 1.4 ? skullForm(hx, hy, hz) * HEAD_UNIT : 1, neckSeam(hz) * HEAD_UNIT);
};
