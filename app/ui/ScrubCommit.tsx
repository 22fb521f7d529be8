import { useState, type ReactNode } from "react";
import { ScrubField, type ScrubFieldProps } from "./ScrubField";

/** A number that is told once, when a drag has ended or a typed value is taken; while it is dragged it only shows. */
export function ScrubCommit({
  value,
  onSet,
  start = value,
  ...field
}: Omit<ScrubFieldProps, "onChange" | "onCommit"> & { readonly onSet: (value: number) => void }): ReactNode {
  // what is shown in place of the value that it was dragged from, until another one comes
  const [draft, setDraft] = useState<{ readonly of: number; readonly shown: number } | null>(null);
  return (
    <ScrubField
      {...field}
      start={start}
      value={draft?.of === value ? draft.shown : value}
      onChange={(shown) => setDraft({ of: value, shown })}
      onCommit={(x) => {
        if (x === value) setDraft(null);
        else onSet(x);
      }}
    />
  );
}
