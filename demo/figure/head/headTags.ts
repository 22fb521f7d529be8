/** What a vertex of the head is: its zone and its place in the zone's own grid. */
export type HeadPlace =
  /** Grid over face and skull: column 0 in front to 28 behind, row 0 at the crown to 31 under the jaw. */
  | { readonly zone: "grid"; readonly column: number; readonly row: number }
  /**
   * Rings round the eye: s runs along the margin from the nose outward, share from the window's border (0) to the
   * margin (1); inner rings lie behind the margin.
   */
  | {
      readonly zone: "lid";
      readonly ring: number;
      readonly spoke: number;
      readonly upper: boolean;
      readonly s: number;
      readonly share: number;
      readonly inner: boolean;
    }
  /**
   * Rings round the mouth: t runs from the middle (0) to the corner (1); throat only where the mouth's bag is closed, 0
   * roof to 1 floor.
   */
  | {
      readonly zone: "mouth";
      readonly layer: MouthLayer;
      readonly ring: number;
      readonly spoke: number;
      readonly upper: boolean;
      readonly t: number;
      readonly share: number;
      readonly throat: number | null;
    }
  | { readonly zone: "ear"; readonly ring: number; readonly spoke: number }
  | { readonly zone: "crown" };
export type MouthLayer = "skin" | "border" | "lip" | "seam" | "inner lip" | "bag";
/** 1 left, -1 right, 0 on the middle. */
export type Side = 1 | -1 | 0;
export type HeadTag = HeadPlace & { readonly side: Side };
/** Ring number of the vertices that close the mouth's bag. */
export const BAG_END = 99;
