import { smoothMin } from "../../modelling/blend";
import type { Field } from "../../modelling/fields";
import { bodyForm } from "../body/bodyForm";
import { neckSeam, skullForm } from "../head/headForm";
import { HEAD_UNIT, worldToHead } from "../placement";

/** Head and body in one form, metres. */
export const wholeForm: Field = (x, y, z) => {
  const body = bodyForm(x, y, z);
  if (y <= 1.4 && body < 0.9) return body;
  const [hx, hy, hz] = worldToHead([x, y, z]);
  return smoothMin(body, y > 1.4 ? skullForm(hx, hy, hz) * HEAD_UNIT : 1, neckSeam(hz) * HEAD_UNIT);
};
