import { useColorScheme } from "@mui/material/styles";
import {
  Chart,
  Filler,
  Legend,
  LinearScale,
  LineElement,
  PointElement,
  Tooltip,
  type ChartOptions,
  type ChartType,
  type Plugin,
} from "chart.js";
import type { ReactNode } from "react";
import { Line } from "react-chartjs-2";
import { useMounted } from "./useMounted";

Chart.register(LinearScale, LineElement, PointElement, Tooltip, Legend, Filler);

export interface Curve {
  readonly name: string;
  readonly points: readonly { readonly x: number; readonly y: number }[];
  readonly tone: "plain" | "accent";
}

export interface CurveChartProps {
  readonly label: string;
  readonly xUnit: string;
  readonly yUnit: string;
  readonly curves: readonly Curve[];
  readonly limit: number | null;
  readonly at: number | null;
  readonly onPick?: (x: number) => void;
}

const ink = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--mui-palette-${name}`).trim() || "#1C2733";

interface Marks {
  readonly limit: number | null;
  readonly at: number | null;
  readonly limitColor: string;
  readonly atColor: string;
}
declare module "chart.js" {
  interface PluginOptionsByType<TType extends ChartType> {
    /** Limit line and needle of a curve chart. */
    marks?: TType extends "line" ? Marks : never;
  }
}

const marks: Plugin<"line", Marks> = {
  id: "marks",
  afterDatasetsDraw({ ctx, chartArea, scales }, _args, { limit, at, limitColor, atColor }) {
    const line = (color: string, x0: number, y0: number, x1: number, y1: number): void => {
      ctx.strokeStyle = color;
      ctx.beginPath();
      ctx.moveTo(x0, y0);
      ctx.lineTo(x1, y1);
      ctx.stroke();
    };
    ctx.save();
    ctx.setLineDash([4, 3]);
    ctx.lineWidth = 1;
    if (limit !== null) {
      const y = scales["y"]!.getPixelForValue(limit);
      line(limitColor, chartArea.left, y, chartArea.right, y);
    }
    if (at !== null) {
      const x = scales["x"]!.getPixelForValue(at);
      line(atColor, x, chartArea.top, x, chartArea.bottom);
    }
    ctx.restore();
  },
};

/** Curves over a range, with the limit as a dashed line and a mark where the stage is. A click picks a place. */
export function CurveChart({ label, xUnit, yUnit, curves, limit, at, onPick }: CurveChartProps): ReactNode {
  const { mode } = useColorScheme();
  const mounted = useMounted();
  if (!mounted) return null;
  const colors = {
    accent: ink("primary-main"),
    plain: ink("error-main"),
    muted: ink("text-secondary"),
    line: ink("divider"),
  };
  const xs = curves.flatMap((c) => c.points.map((p) => p.x));
  const options: ChartOptions<"line"> = {
    animation: false,
    responsive: true,
    maintainAspectRatio: false,
    parsing: false,
    interaction: { mode: "index", intersect: false },
    onClick: (event, _items, chart) => onPick?.(chart.scales["x"]!.getValueForPixel(event.x ?? 0) ?? 0),
    scales: {
      x: {
        type: "linear",
        min: Math.min(...xs),
        max: Math.max(...xs),
        grid: { display: false },
        border: { color: colors.line },
        ticks: {
          color: colors.muted,
          maxTicksLimit: 8,
          callback: (v) => `${v}${xUnit}`,
          font: { family: "Atkinson Hyperlegible Mono Variable", size: 11 },
        },
      },
      y: {
        grid: { color: colors.line },
        border: { display: false },
        suggestedMin: limit !== null && limit < 0 ? limit * 1.1 : undefined,
        suggestedMax: limit !== null && limit > 0 ? limit * 1.1 : undefined,
        ticks: {
          color: colors.muted,
          maxTicksLimit: 5,
          callback: (v) => `${v} ${yUnit}`,
          font: { family: "Atkinson Hyperlegible Mono Variable", size: 11 },
        },
      },
    },
    plugins: {
      marks: { limit, at, limitColor: colors.muted, atColor: colors.plain },
      legend: { display: false },
      tooltip: {
        callbacks: {
          title: (items) => `${items[0]!.parsed.x!.toFixed(0)}${xUnit}`,
          label: (item) => `${item.dataset.label}: ${item.parsed.y!.toFixed(2)} ${yUnit}`,
        },
      },
    },
  };
  return (
    <Line
      key={mode}
      aria-label={label}
      role="img"
      options={options}
      plugins={[marks]}
      data={{
        datasets: curves.map((c) => ({
          label: c.name,
          data: c.points.map((p) => ({ ...p })),
          borderColor: colors[c.tone],
          backgroundColor: colors[c.tone],
          borderWidth: c.tone === "accent" ? 2 : 1.5,
          pointRadius: 2,
          pointHitRadius: 8,
          tension: 0.25,
        })),
      }}
    />
  );
}
