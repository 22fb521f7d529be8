import { UserError } from "./userError";

/**
 * Most of each thing that a file may hold, asked before memory is taken for it. Far beyond any character, and within
 * what one process can bear. Our own choice, no source.
 */
export const BUDGET = {
  /** Vertices of all parts, a mesh that stands several times counted as often. */
  vertices: 8_000_000,
  corners: 48_000_000,
  /** Vertices times shapes, before what does not move is left out. */
  shapeVertices: 80_000_000,
  joints: 5000,
  parts: 2000,
  /** Joints of all skins together. */
  skinJoints: 300_000,
  materials: 2000,
  /** Joints and nodes that hang one on another. */
  depth: 500,
  /** Numbers in own bind matrices: 16 x joints x parts. */
  bindNumbers: 64_000_000,
  /** Keys of all clips. */
  clipNumbers: 40_000_000,
  /** Bytes that compressed data says it opens to. */
  openedBytes: 1_500_000_000,
  nodes: 50_000,
  /** Corners of one polygon. */
  polygonCorners: 4096,
  /** Levels of objects and lists in JSON. */
  jsonDepth: 64,
} as const;
export type BudgetItem = keyof typeof BUDGET;

const WORDS: Readonly<Record<BudgetItem, string>> = {
  vertices: "vertices",
  corners: "corners of faces",
  shapeVertices: "vertices in all shapes together",
  joints: "joints",
  parts: "parts",
  skinJoints: "joints in all its skins together",
  materials: "materials",
  depth: "joints hanging one on another",
  bindNumbers: "numbers in bind matrices",
  clipNumbers: "numbers in its clips",
  openedBytes: "bytes when it is opened",
  nodes: "nodes",
  polygonCorners: "corners in one face",
  jsonDepth: "levels of lists in lists",
};

/** @throws UserError when there are more than the budget has. */
export function within(
  item: BudgetItem,
  count: number,
  where: string,
  todo = "Send the character without its scene, or in parts.",
): void {
  if (count <= BUDGET[item]) return;
  const said = Number.isFinite(count) ? count.toLocaleString("en") : "endlessly many";
  throw new UserError(
    `It has ${said} ${WORDS[item]}; up to ${BUDGET[item].toLocaleString("en")} are read.`,
    where,
    todo,
  );
}
