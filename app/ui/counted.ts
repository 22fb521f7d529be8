const IRREGULAR: Readonly<Record<string, string>> = { vertices: "vertex" };

/** A number with its noun: 1 face, 2 faces, 1 vertex. @param plural the noun for many. */
export const counted = (n: number, plural: string): string =>
  `${n.toLocaleString("en")} ${n === 1 ? (IRREGULAR[plural] ?? plural.replace(/s$/, "")) : plural}`;
