import MenuItem from "@mui/material/MenuItem";
import type { ReactNode } from "react";
import { SmallSelect } from "./SmallSelect";

interface NameSelectProps {
  /** What a reader of screens says. */
  readonly label: string;
  readonly value: string;
  readonly names: readonly string[];
  /** What stands first and names nothing: its value and its word. */
  readonly none?: readonly [value: string, word: string];
  readonly onChange: (name: string) => void;
}
/** A choice among names of joints or other things of a file, in letters of one width. */
export const NameSelect = ({ label, value, names, none, onChange }: NameSelectProps): ReactNode => (
  <SmallSelect label={label} value={value} onChange={onChange} size={12} mono>
    {none && (
      <MenuItem value={none[0]}>
        <span className="muted">{none[1]}</span>
      </MenuItem>
    )}
    {names.map((name) => (
      <MenuItem key={name} value={name}>
        <span className="mono">{name}</span>
      </MenuItem>
    ))}
  </SmallSelect>
);
