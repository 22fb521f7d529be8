import { useEffect, useMemo, useRef, useState, type PointerEvent, type ReactNode, type RefObject } from "react";
import type { PairRun } from "~core/checks/pairs/readPairs";
import Button from "@mui/material/Button";
import { saveFile } from "../../ui/saveFile";
import { pairPicture, pairsCsv } from "./pairFiles";
import { HEAT_CSS, heatCss } from "../../ui/heatCss";

/** Width of the matrix on screen, pixels. */
const WIDTH = 416;
/** Excess at which the scale ends, limits. */
const SCALE_END = 3;

/**
 * Half a square, a cell a pair, shapes from the brows down; colour for the worst excess, empty where nothing goes
 * beyond a limit.
 */
export function PairMatrix({
  run,
  onPick,
  name,
}: {
  run: PairRun;
  onPick: (a: string, b: string) => void;
  /** Of the character, for the files. */ name: string;
}): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [at, setAt] = useState<readonly [number, number] | null>(null);
  const n = run.shapes.length;
  const cell = WIDTH / n;
  const worst = useMemo(() => {
    const index = new Map(run.shapes.map((s, i) => [s, i]));
    const out = new Map<number, number>();
    for (const r of run.rows) {
      const [i, j] = [index.get(r.a)!, index.get(r.b)!].sort((x, y) => x - y) as [number, number];
      out.set(i * n + j, Math.max(out.get(i * n + j) ?? 0, r.excess));
    }
    return out;
  }, [run, n]);
  useCells(canvas, worst, n);
  const pairAt = (e: PointerEvent): readonly [number, number] | null => {
    const box = e.currentTarget.getBoundingClientRect();
    const [i, j] = [Math.floor((e.clientX - box.left) / cell), Math.floor((e.clientY - box.top) / cell)];
    return i >= 0 && j < n && i < j ? [i, j] : null;
  };
  const words = at
    ? `${run.shapes[at[0]]} + ` +
      `${run.shapes[at[1]]}${worst.has(at[0] * n + at[1]) ? `: ${(worst.get(at[0] * n + at[1])! + 1).toFixed(1)} ` + "times the limit or what one does alone" : ": within every limit"}`
    : "Point at a cell to name the pair; click to see it.";
  return (
    <figure style={{ margin: "10px 18px", position: "relative", minHeight: WIDTH }}>
      <canvas
        ref={canvas}
        width={2 * WIDTH}
        height={2 * WIDTH}
        style={{ width: WIDTH, height: WIDTH, cursor: "pointer", display: "block" }}
        role="img"
        aria-label={`Matrix of ${run.pairCount} pairs of ${n} shapes`}
        onPointerMove={(e) => setAt(pairAt(e))}
        onPointerLeave={() => setAt(null)}
        onClick={(e) => {
          const p = pairAt(e as unknown as PointerEvent);
          if (p) onPick(run.shapes[p[0]]!, run.shapes[p[1]]!);
        }}
      />
      <figcaption
        style={{
          fontSize: 12.5,
          position: "absolute",
          right: 0,
          top: 0,
          width: 250,
          textAlign: "right",
          pointerEvents: "none",
        }}>
        <div className="mono min-h-40 break-words">{words}</div>
        <div className="line justify-flex-end mt-6">
          <span className="muted nowrap">limit</span>
          <span style={{ width: 70, height: 8, background: HEAT_CSS, borderRadius: 2 }} aria-hidden />
          <span className="muted nowrap">{SCALE_END + 1}×</span>
        </div>
        <div className="muted mt-6">Shapes from the brows down, each with each.</div>
        <div className="line" style={{ justifyContent: "flex-end", marginTop: 6, pointerEvents: "auto" }}>
          <Button
            onClick={() => void pairPicture(run, worst, SCALE_END).then((png) => saveFile(`${name} pairs.png`, png))}>
            Save picture
          </Button>
          <Button onClick={() => saveFile(`${name} pairs.csv`, new Blob([pairsCsv(run)], { type: "text/csv" }))}>
            Save CSV
          </Button>
        </div>
      </figcaption>
    </figure>
  );
}

/** Draws a cell a pair. */
function useCells(canvas: RefObject<HTMLCanvasElement | null>, worst: ReadonlyMap<number, number>, n: number): void {
  const cell = WIDTH / n;
  useEffect(() => {
    const ctx = canvas.current?.getContext("2d");
    if (!ctx) return;
    const ratio = canvas.current!.width / WIDTH;
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    ctx.clearRect(0, 0, WIDTH, WIDTH);
    const empty = getComputedStyle(document.documentElement).getPropertyValue("--line");
    for (let i = 0; i < n; i++)
      for (let j = i + 1; j < n; j++) {
        const excess = worst.get(i * n + j);
        ctx.globalAlpha = excess === undefined ? 0.35 : 1;
        ctx.fillStyle = excess === undefined ? empty : heatCss(0.15 + (0.85 * excess) / SCALE_END);
        ctx.fillRect(i * cell + 0.5, j * cell + 0.5, cell - 1, cell - 1);
      }
  }, [canvas, worst, n, cell]);
}
