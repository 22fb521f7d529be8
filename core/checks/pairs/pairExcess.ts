import { amount, checkEntry } from "../check";

/** What two shapes do together beyond either alone; found by reading pairs. */
export const pairExcess = checkEntry({
  id: "pair.excess",
  title: "Shapes that do not go together",
  station: "trials",
  unit: "ratio",
  measures:
    "stretch (99th percentile of edge length) and turned faces where two face shapes meet, beyond " +
    ("what either does alone; lips, lids, eyes left open, teeth and tongue " +
      "are read by the checks above; combinations that answer the pair act"),
  severity: "error",
  limits: { "pair.stretch": amount(3) },
  source: "our own choice: stretch 3, no turned face",
});
