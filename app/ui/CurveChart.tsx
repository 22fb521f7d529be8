import { useColorScheme } from "@mui/material/styles";
import { Chart, Filler, Legend, LinearScale, LineElement, PointElement, Tooltip, type ChartOptions, type Plugin } from "chart.js";
import { useEffect, useState, type ReactNode } from "react";
import { Line } from "react-chartjs-2";

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
  readonly onPick: (x: number) => void;
}

const ink = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(`--mui-palette-${name}`).trim() || "#1C2733";

/** Curves over a range, with the limit as a dashed line and a mark where the stage is. A click picks a place. */
export function CurveChart({ label, xUnit, yUnit, curves, limit, at, onPick }: CurveChartProps): ReactNode {
  const { mode } = useColorScheme();
  const [ready, setReady] = useState(false);
  useEffect(() => setReady(true), []);
  if (!ready) return null;
  const colors = { accent: ink("primary-main"), plain: ink("error-main"), muted: ink("text-secondary"), line: ink("divider") };
  const xs = curves.flatMap((c) => c.points.map((p) => p.x));
  const lines: Plugin<"line"> = {
    id: "lines",
    afterDatasetsDraw(chart) {
      const { ctx, chartArea, scales } = chart;
      ctx.save();
      ctx.setLineDash([4, 3]);
      ctx.lineWidth = 1;
      if (limit !== null) {
        const y = scales["y"]!.getPixelForValue(limit);
        ctx.strokeStyle = colors.muted;
        ctx.beginPath();
        ctx.moveTo(chartArea.left, y);
        ctx.lineTo(chartArea.right, y);
        ctx.stroke();
      }
      if (at !== null) {
        const x = scales["x"]!.getPixelForValue(at);
        ctx.strokeStyle = colors.plain;
        ctx.beginPath();
        ctx.moveTo(x, chartArea.top);
        ctx.lineTo(x, chartArea.bottom);
        ctx.stroke();
      }
      ctx.restore();
    },
  };
  const options: ChartOptions<"line"> = {
    animation: false, responsive: true, maintainAspectRatio: false, parsing: false,
    interaction: { mode: "index", intersect: false },
    onClick: (event, _items, chart) => onPick(chart.scales["x"]!.getValueForPixel(event.x ?? 0) ?? 0),
    scales: {
      x: { type: "linear", min: Math.min(...xs), max: Math.max(...xs), grid: { display: false }, border: { color: colors.line }, ticks: { color: colors.muted, maxTicksLimit: 8, callback: (v) => `${v}${xUnit}`, font: { family: "Atkinson Hyperlegible Mono Variable", size: 11 } } },
      y: { grid: { color: colors.line }, border: { display: false }, suggestedMin: limit !== null && limit < 0 ? limit * 1.1 : undefined, suggestedMax: limit !== null && limit > 0 ? limit * 1.1 : undefined, ticks: { color: colors.muted, maxTicksLimit: 5, callback: (v) => `${v} ${yUnit}`, font: { family: "Atkinson Hyperlegible Mono Variable", size: 11 } } },
    },
    plugins: { legend: { display: false }, tooltip: { callbacks: { title: (items) => `${items[0]!.parsed.x!.toFixed(0)}${xUnit}`, label: (item) => `${item.dataset.label}: ${item.parsed.y!.toFixed(2)} ${yUnit}` } } },
  };
  return (
    <Line key={mode} aria-label={label} role="img" options={options} plugins={[lines]}
      data={{ datasets: curves.map((c) => ({ label: c.name, data: c.points.map((p) => ({ ...p })), borderColor: colors[c.tone], backgroundColor: colors[c.tone], borderWidth: c.tone === "accent" ? 2 : 1.5, pointRadius: 2, pointHitRadius: 8, tension: 0.25 })) }} />
  );
}
