/** The light of the plaster room, whatever draws it: a soft sky, a key from the upper left in front, a weak rim. */
export interface Sky {
  /** sRGB, six digits. */
  readonly above: string;
  readonly below: string;
  readonly strength: number;
}
export interface Lamp {
  readonly color: string;
  readonly strength: number;
  /** Where it shines from, not of unit length. */
  readonly from: readonly [number, number, number];
}
export const SKY: Sky = { above: "#f4f1ea", below: "#8d8274", strength: 1.35 };
export const KEY: Lamp = { color: "#fff4e6", strength: 2.3, from: [-1.6, 2.6, 2.4] };
export const RIM: Lamp = { color: "#dfe9f2", strength: 0.9, from: [2, 1.6, -2.2] };
