import type { BodyTag } from "../body/bodyTags";
import type { HeadPlace, HeadTag, Side } from "../head/headTags";

/** What a vertex of the joined skin is. Head places keep their zone; neck and chin are the rows that join the two. */
export type SkinTag =
  | { readonly region: "head"; readonly head: HeadPlace; readonly side: Side }
  | { readonly region: "chin"; readonly row: number; readonly column: number; readonly side: Side }
  | { readonly region: "neck"; readonly row: number; readonly column: number; readonly side: Side }
  | (BodyTag & { readonly side: Side });

export const headPlaceOf = (tag: SkinTag): HeadPlace | null => (tag.region === "head" ? tag.head : null);
export const placeOf = ({ side: _side, ...place }: HeadTag): HeadPlace => place;
