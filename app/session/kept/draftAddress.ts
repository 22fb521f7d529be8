import type { Draft } from "./drafts";

/** Address of the place where a draft goes on. */
export const draftAddress = (draft: Draft, query = new URLSearchParams()): string => {
  for (const [k, v] of Object.entries({ ...draft.place.query, draft: draft.id })) query.set(k, v);
  return `/c/${draft.character}/${draft.place.station}?${query.toString()}`;
};
