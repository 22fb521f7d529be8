import type { PairRun } from "~core/checks/pairs/readPairs";
import { heatCss } from "../../ui/heatCss";
import { FACE_MEASURE_WORDS } from "./faceMeasures";

const quoted = (text: string): string => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/**
 * Every reading of a pair beyond a limit as a line (RFC 4180): both shapes, what was measured, its value, limit and
 * unit, what is worst alone, and the excess in limits.
 */
export function pairsCsv(run: PairRun): string {
  const lines = run.rows.map((r) => {
    const m = FACE_MEASURE_WORDS[r.measure];
    return [r.a, r.b, m.name, r.value, m.limit, r.alone, r.excess].map((x) => quoted(String(x))).join(",");
  });
  return `${["shape", "with", "measure", "value", "limit", "alone", "excess"].join(",")}\r\n${lines.map((l) => `${l}\r\n`).join("")}`;
}

/** Size of a cell and of the names in the picture, pixels. */
const CELL = 14;
const TEXT = 11;

/** The matrix as a PNG with the names of all shapes. @param worst excess by row times count plus column. */
export async function pairPicture(run: PairRun, worst: ReadonlyMap<number, number>, scaleEnd: number): Promise<Blob> {
  const n = run.shapes.length;
  const canvas = document.createElement("canvas");
  const ctx = canvas.getContext("2d")!;
  const font = `${TEXT}px ui-monospace, monospace`;
  ctx.font = font;
  const margin = Math.ceil(Math.max(60, ...run.shapes.map((s) => ctx.measureText(s).width))) + 12;
  canvas.width = margin + n * CELL + 8;
  canvas.height = margin + n * CELL + 8;
  ctx.font = font;
  ctx.fillStyle = "#ffffff";
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.textBaseline = "middle";
  run.shapes.forEach((shape, i) => {
    ctx.fillStyle = "#222222";
    ctx.textAlign = "right";
    ctx.fillText(shape, margin - 6, margin + (i + 0.5) * CELL);
    ctx.save();
    ctx.translate(margin + (i + 0.5) * CELL, margin - 6);
    ctx.rotate(-Math.PI / 2);
    ctx.textAlign = "left";
    ctx.fillText(shape, 0, 0);
    ctx.restore();
    for (let j = i + 1; j < n; j++) {
      const excess = worst.get(i * n + j);
      ctx.fillStyle = excess === undefined ? "#ececec" : heatCss(0.15 + (0.85 * excess) / scaleEnd);
      ctx.fillRect(margin + i * CELL + 1, margin + j * CELL + 1, CELL - 2, CELL - 2);
    }
  });
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error("no picture"))), "image/png"),
  );
}
