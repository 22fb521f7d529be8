import type { ReactNode } from "react";
import { driverWeightAt } from "~core/evaluate/drivers/driverWeight";
import type { Driver } from "~core/model/character";

const W = 150;
const H = 44;

/** Weight of a corrective against its joint's angle, with the present angle marked. */
export function DriverCurve({ driver, angle }: { driver: Driver; angle: number }): ReactNode {
  const lo = Math.min(driver.fromDegrees, driver.toDegrees, 0, angle);
  const hi = Math.max(driver.fromDegrees, driver.toDegrees, 0, angle) + 10;
  const x = (a: number): number => 4 + ((W - 8) * (a - lo)) / (hi - lo);
  const top = Math.max(1, driver.intensity);
  const y = (w: number): number => H - 5 - ((H - 11) * w) / top;
  const at = (a: number): number => driverWeightAt({ ...driver, enabled: true }, a);
  const points = Array.from({ length: 41 }, (_, i) => lo + ((hi - lo) * i) / 40)
    .map((a) => `${x(a).toFixed(1)},${y(at(a)).toFixed(1)}`)
    .join(" ");
  return (
    <svg
      width={W}
      height={H}
      role="img"
      aria-label={`Weight from ${driver.fromDegrees} to ${driver.toDegrees} degrees`}
      style={{ flex: "none", opacity: driver.enabled ? 1 : 0.4 }}>
      <line x1={0} x2={W} y1={y(0)} y2={y(0)} stroke="var(--line)" />
      <polyline points={points} fill="none" stroke="var(--accent)" strokeWidth={1.8} />
      {[driver.fromDegrees, driver.toDegrees].map((a, i) => (
        <circle key={i} cx={x(a)} cy={y(at(a))} r={3} fill="var(--surface)" stroke="var(--ink)" />
      ))}
      <line x1={x(angle)} x2={x(angle)} y1={2} y2={H - 2} stroke="var(--brick)" strokeDasharray="3 2" />
    </svg>
  );
}
