/** Names that JavaScript's objects have already: under them nothing could be told apart from what is not there. */
const RESERVED = new Set(Object.getOwnPropertyNames(Object.prototype));

/** A text without what no database keeps: NUL, and halves of surrogate pairs. */
export const cleanText = (text: string): string => text.replaceAll("\0", "\ufffd").replace(/\p{Surrogate}/gu, "\ufffd");

/** A name as it is safe to keep and to look up. */
export const cleanName = (name: string): string => {
  const clean = cleanText(name);
  return RESERVED.has(clean) ? `${clean}_` : clean;
};
