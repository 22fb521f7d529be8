import { contours } from "d3-contour";
import { useId, useMemo, type MouseEvent, type ReactNode } from "react";
import { coastOf, placeOf, turnTo, twistOf, type Place, type SwingMap } from "~core/correctives/swingMap";
import { readySamples } from "~core/evaluate/drivers/sampleWeights";
import { rotate } from "~core/math/quat";
import type { Quat } from "~core/math/vec3";
import type { SampleSet } from "~core/model/poseDriver";
import type { JointMotion } from "~core/skeleton/jointMotions";

/** Weights are read at so many points a side of the chart. */
const GRID = 61;
const SIZE = 250;
const MIDDLE = SIZE / 2;
const RADIUS = MIDDLE - 14;

interface SwingChartProps {
  readonly set: SampleSet;
  /** Which of the set's joints is drawn; the others stand as they do now. */
  readonly joint: number;
  readonly map: SwingMap;
  readonly motions: readonly JointMotion[];
  /** Turns of the set's joints now. */
  readonly turns: readonly Quat[];
  readonly onSwing: (turn: Quat) => void;
  readonly onSample: (name: string) => void;
}

/**
 * Sampled poses as soundings on a chart of where the bone can point, seen from rest: a number at each is its weight
 * now, lines join equal weights, the coast is the joint's range, the needle the present pose.
 */
export function SwingChart({ set, joint, map, motions, turns, onSwing, onSample }: SwingChartProps): ReactNode {
  const clip = useId();
  const ready = useMemo(() => readySamples(set), [set]);
  const now = turns[joint]!;
  const twist = useMemo(() => twistOf(map.along, now), [map, now]);
  const others = turns.map((q, i) => (i === joint ? null : q));
  const key = JSON.stringify([others, twist.map((v) => v.toFixed(2))]);
  const coast = useMemo(() => coastOf(map, motions), [map, motions]);
  const needle = placeOf(map, rotate(now, map.along));
  const samples = set.samples.map((s) => placeOf(map, rotate(s.turns[joint]!, map.along)));
  // as near as the range and what is sampled allow, in steps that do not move with the needle
  const farthest = [...coast, ...samples].reduce((most, p) => Math.max(most, Math.hypot(...p)), 30);
  const reach = Math.min(180, 30 * Math.ceil((farthest + 6) / 30));
  const scale = RADIUS / reach;
  const rings = Array.from({ length: reach / 30 }, (_, i) => 30 * (i + 1));
  const lines = useMemo(
    () => (ready ? linesOf(set, ready, map, reach, JSON.parse(key) as [(Quat | null)[], string[]]) : []),
    [ready, set, map, reach, key],
  );
  const x = (place: Place): number => MIDDLE + scale * place[0];
  const y = (place: Place): number => MIDDLE - scale * place[1];
  const shore = coast.length ? `M${coast.map((p) => `${x(p).toFixed(1)},${y(p).toFixed(1)}`).join("L")}Z` : null;
  const weights = ready?.weightsAt(turns);
  const pick = (e: MouseEvent<SVGSVGElement>): void => {
    const box = e.currentTarget.getBoundingClientRect();
    const at: Place = [
      (((e.clientX - box.left) / box.width) * SIZE - MIDDLE) / scale,
      -(((e.clientY - box.top) / box.height) * SIZE - MIDDLE) / scale,
    ];
    if (Math.hypot(...at) <= reach) onSwing(turnTo(map, at, twist));
  };
  return (
    <svg
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      className="swing-chart"
      role="img"
      aria-label={`Poses of ${set.joints[joint]!.joint} seen from rest, ${set.samples.length} sampled`}
      onClick={pick}>
      <title>Click to point the bone there</title>
      <clipPath id={clip}>{shore ? <path d={shore} /> : <circle cx={MIDDLE} cy={MIDDLE} r={RADIUS} />}</clipPath>
      {rings.map((r) => (
        <circle key={r} cx={MIDDLE} cy={MIDDLE} r={scale * r} className="graticule" />
      ))}
      {shore && <path className="coast" d={shore} />}
      <g clipPath={`url(#${clip})`}>
        {lines.map(({ path, half }, i) => (
          <path key={i} d={path} className={half ? "isoline half" : "isoline"} />
        ))}
      </g>
      {rings.slice(-2).map((r) => (
        <text key={r} x={MIDDLE + 3} y={MIDDLE + scale * r - 3} className="chart-words">
          {r}°
        </text>
      ))}
      {map.sides.map((words, i) => (
        <text
          key={words}
          x={[MIDDLE, SIZE - 1, MIDDLE, 1][i]}
          y={[9, MIDDLE - 4, SIZE - 2, MIDDLE - 4][i]}
          textAnchor={(["middle", "end", "middle", "start"] as const)[i]}
          className="chart-words">
          {words}
        </text>
      ))}
      <line x1={MIDDLE} y1={MIDDLE} x2={x(needle)} y2={y(needle)} className="needle" />
      <circle cx={x(needle)} cy={y(needle)} r={3.2} className="needle" />
      {[
        { name: "rest", place: [0, 0] as Place },
        ...set.samples.map((s, i) => ({ name: s.name, place: samples[i]! })),
      ].map(({ name, place }, i) => (
        <text
          key={name}
          x={x(place)}
          y={y(place) + 4}
          textAnchor="middle"
          className="sounding"
          onClick={(e) => {
            e.stopPropagation();
            onSample(name);
          }}>
          <title>{name}</title>
          {Math.round(100 * (weights?.[i] ?? 0))}
        </text>
      ))}
    </svg>
  );
}

/** Lines of equal weight of every sample and of rest, at a quarter, a half and three quarters, as SVG paths. */
function linesOf(
  set: SampleSet,
  ready: NonNullable<ReturnType<typeof readySamples>>,
  map: SwingMap,
  reach: number,
  [others, twistWords]: [(Quat | null)[], string[]],
): { path: string; half: boolean }[] {
  const twist = twistWords.map(Number) as unknown as Quat;
  const values = Array.from({ length: set.samples.length + 1 }, () => new Array<number>(GRID * GRID).fill(0));
  const out = new Float64Array(set.samples.length + 1);
  const step = (2 * reach) / (GRID - 1);
  for (let row = 0; row < GRID; row++)
    for (let column = 0; column < GRID; column++) {
      const place: Place = [column * step - reach, reach - row * step];
      const turns = others.map((q) => q ?? turnTo(map, place, twist));
      ready.weightsAt(turns, out).forEach((w, i) => (values[i]![row * GRID + column] = w));
    }
  const at = (v: number): number => MIDDLE + (RADIUS / reach) * ((v - 0.5) * step - reach);
  const made = contours().size([GRID, GRID]);
  return values.flatMap((weights) =>
    made
      .thresholds([0.25, 0.5, 0.75])(weights)
      .flatMap(({ value, coordinates }) => {
        const path = coordinates
          .flat()
          .map((ring) => `M${ring.map(([cx, cy]) => `${at(cx!).toFixed(1)},${at(cy!).toFixed(1)}`).join("L")}Z`)
          .join("");
        return path ? [{ path, half: value === 0.5 }] : [];
      }),
  );
}

/** Where a bone points, in degrees from rest, in words. */
export const swingWords = (map: SwingMap, turn: Quat): string => {
  const place = placeOf(map, rotate(turn, map.along));
  const off = Math.round(Math.hypot(...place));
  if (off === 0) return "0°";
  const i = Math.abs(place[1]) >= Math.abs(place[0]) ? (place[1] > 0 ? 0 : 2) : place[0] > 0 ? 1 : 3;
  return `${off}° ${map.sides[i]}`;
};
