const IRREGULAR: Readonly<Record<string, string>> = { vertices: "vertex" };

/** Thousands apart. The browser's own formatter takes 90 ms when it is first used; whole numbers do without. */
const grouped = (n: number): string =>
  Number.isInteger(n) ? String(n).replace(/\B(?=(\d{3})+$)/g, ",") : n.toLocaleString("en");

/** A number with its noun: 1 face, 2 faces, 1 vertex. @param plural the noun for many. */
export const counted = (n: number, plural: string): string =>
  `${grouped(n)} ${n === 1 ? (IRREGULAR[plural] ?? plural.replace(/s$/, "")) : plural}`;
