import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import type { ReactNode } from "react";

/** A shape's name to type or choose. */
export function ShapePick({
  label,
  names,
  value,
  onChange,
}: {
  label: string;
  names: readonly string[];
  value: string | null;
  onChange: (name: string | null) => void;
}): ReactNode {
  return (
    <Autocomplete
      size="small"
      options={names as string[]}
      value={value}
      onChange={(_, name) => onChange(name)}
      sx={{ width: 210 }}
      slotProps={{ listbox: { sx: { fontSize: 12.5, fontFamily: "var(--mono)" } } }}
      renderInput={(params) => (
        <TextField
          {...params}
          placeholder={label}
          slotProps={{
            ...params.slotProps,
            htmlInput: {
              ...params.slotProps.htmlInput,
              "aria-label": label,
              className: `${params.slotProps.htmlInput.className ?? ""} mono`,
            },
          }}
        />
      )}
    />
  );
}
