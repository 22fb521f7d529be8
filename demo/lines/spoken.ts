import { LINES } from "./lines";

/** Voices of the cast, by our names of the synthesiser's. */
export const VOICE_OF: Readonly<Record<string, "alto" | "bass" | "tenor">> = {
  oda: "alto",
  tarn: "bass",
  wick: "tenor",
};

/** Texts of the six lines, as a person would type them. */
export const LINE_TEXTS: readonly { readonly id: string; readonly text: string }[] = LINES.map(({ id, words }) => ({
  id,
  text: `${words.map(([word]) => word).join(" ")}.`,
}));
/** Between lines, seconds. */
export const LINES_APART = 0.4;
