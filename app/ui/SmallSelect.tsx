import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { ReactNode } from "react";

/** A long list scrolls inside the page. */
const MENU = { slotProps: { paper: { sx: { maxHeight: 360 } } } };

interface SmallSelectProps<T extends string | number> {
  /** What a reader of screens says. */
  readonly label: string;
  readonly value: T | "";
  readonly onChange: (value: T) => void;
  /** What can be chosen, where a value is its own word; else menu items are given inside. */
  readonly options?: readonly T[];
  /** Words of what can be chosen. */
  readonly words?: (value: T) => ReactNode;
  readonly children?: ReactNode;
  readonly disabled?: boolean;
  readonly size?: number;
  readonly mono?: boolean;
  readonly maxWidth?: number;
}
/** A choice from a list that opens, without a frame: it stands in a line of words. */
export const SmallSelect = <T extends string | number>(props: SmallSelectProps<T>): ReactNode => (
  <Select
    variant="standard"
    disableUnderline
    displayEmpty
    value={props.value}
    disabled={props.disabled ?? false}
    onChange={(e) => props.onChange(e.target.value as T)}
    sx={{
      fontSize: props.size ?? 12.5,
      ...(props.mono ? { fontFamily: "var(--mono)" } : {}),
      ...(props.maxWidth === undefined ? {} : { maxWidth: props.maxWidth }),
    }}
    inputProps={{ "aria-label": props.label }}
    MenuProps={MENU}>
    {props.options?.map((o) => (
      <MenuItem key={o} value={o}>
        {props.words ? props.words(o) : o}
      </MenuItem>
    )) ?? props.children}
  </Select>
);
