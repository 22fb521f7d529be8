import { useRef, type ReactNode } from "react";
import { ScrubField, type ScrubFieldProps } from "./ScrubField";

/**
 * A number whose every drag is one change of a history: what follows in the same drag is told as the same change.
 */
export function ScrubChange({
  onSet,
  ...field
}: Omit<ScrubFieldProps, "onChange" | "onCommit"> & {
  readonly onSet: (value: number, same: boolean) => void;
}): ReactNode {
  const begun = useRef(false);
  const set = (value: number): void => {
    onSet(value, begun.current);
    begun.current = true;
  };
  return (
    <ScrubField
      {...field}
      onChange={set}
      onCommit={(value) => {
        set(value);
        begun.current = false;
      }}
    />
  );
}
