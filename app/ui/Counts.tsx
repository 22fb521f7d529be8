import type { ReactNode } from "react";

/** Named numbers in two columns. */
export const Counts = ({ of }: { of: readonly (readonly [string, number])[] }): ReactNode => (
  <dl className="counts">
    {of.map(([what, n]) => (
      <div key={what}>
        <dt>{what}</dt>
        <dd className="mono">{n.toLocaleString("en")}</dd>
      </div>
    ))}
  </dl>
);
