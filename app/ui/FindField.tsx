import type { ReactNode } from "react";
import TextField from "@mui/material/TextField";

/** Search over a list; Escape empties it. */
export function FindField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
}): ReactNode {
  return (
    <TextField
      placeholder={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      onKeyDown={(e) => e.key === "Escape" && onChange("")}
      sx={{ flex: 1, minWidth: 150 }}
      slotProps={{ htmlInput: { "aria-label": label, type: "search" } }}
    />
  );
}
