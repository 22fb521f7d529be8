/** Names that JavaScript's objects have already: under them nothing could be told apart from what is not there. */
const RESERVED = new Set(Object.getOwnPropertyNames(Object.prototype));

/** A text without what no database and no file can keep: NUL, other controls, and halves of surrogate pairs. */
export const cleanText = (text: string): string => text.replace(/\p{Cc}|\p{Surrogate}/gu, "\ufffd");

/** A name as it is safe to keep and to look up. */
export const cleanName = (name: string): string => {
  const clean = cleanText(name);
  return RESERVED.has(clean) ? `${clean}_` : clean;
};
