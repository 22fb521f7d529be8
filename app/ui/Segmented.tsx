import type { ReactNode } from "react";

export interface SegmentedProps<T extends string> {
  readonly label: string;
  readonly options: readonly T[];
  readonly value: T;
  readonly onChange: (value: T) => void;
  readonly names?: Partial<Record<T, string>>;
}

/** A small switch between a few choices. */
export function Segmented<T extends string>({ label, options, value, onChange, names }: SegmentedProps<T>): ReactNode {
  return (
    <div className="segmented" role="group" aria-label={label}>
      {options.map((o) => (
        <button key={o} type="button" aria-pressed={o === value} onClick={() => onChange(o)}>
          {names?.[o] ?? o}
        </button>
      ))}
    </div>
  );
}
