/** Rows as an aligned text table; numbers stand right. */
export function table(header: readonly string[], rows: readonly (readonly (string | number)[])[]): string {
  const cells = [header, ...rows].map((r) => r.map((c) => (typeof c === "number" ? String(Number(c.toFixed(3))) : c)));
  const widths = header.map((_, i) => Math.max(...cells.map((r) => (r[i] ?? "").length)));
  const isNumber = header.map((_, i) => rows.length > 0 && rows.every((r) => typeof r[i] === "number"));
  return cells
    .map((r) =>
      r
        .map((c, i) => (isNumber[i] ? c.padStart(widths[i]!) : c.padEnd(widths[i]!)))
        .join("  ")
        .trimEnd(),
    )
    .join("\n");
}
