import type { Field } from "../../modelling/fields";

/** What a vertex of the body is: its region and its place in the region's own grid. */
export type BodyPlace =
  | { readonly region: "torso"; readonly row: number; readonly column: number; readonly crotch?: true }
  | { readonly region: "arm"; readonly along: number; readonly spoke: number }
  | { readonly region: "palm"; readonly row: number; readonly column: number; readonly spoke: number }
  | { readonly region: "web"; readonly column: number }
  | { readonly region: "finger"; readonly finger: number; readonly ring: number }
  | { readonly region: "thumb"; readonly ring: number }
  | { readonly region: "leg"; readonly ring: number; readonly spoke: number }
  | { readonly region: "foot"; readonly ring: number; readonly spoke: number };

export interface Held {
  /** Form that the vertex lies on; null for one that is placed by hand. */
  readonly form: Field | null;
  /** How firmly it keeps its place when the skin is evened out: 0 free, 1 fixed. */
  pin: number;
}
export type BodyTag = BodyPlace & Held;
