import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import type { ReactNode } from "react";

interface SmallSwitchProps {
  readonly label: ReactNode;
  readonly checked: boolean;
  readonly onChange: (on: boolean) => void;
  readonly disabled?: boolean;
  /** What a reader of screens says, where the label is not enough. */
  readonly spoken?: string;
  readonly title?: string;
}
/** A switch with its words behind it, as high as a line of a tool. */
export const SmallSwitch = ({ label, checked, onChange, disabled, spoken, title }: SmallSwitchProps): ReactNode => (
  <FormControlLabel
    control={
      <Switch
        size="small"
        checked={checked}
        disabled={disabled ?? false}
        onChange={(e) => onChange(e.target.checked)}
        slotProps={spoken ? { input: { "aria-label": spoken } } : {}}
      />
    }
    label={label}
    slotProps={{ typography: { sx: { fontSize: 12.5 } } }}
    sx={{ ml: 0, mr: 0 }}
    title={title ?? ""}
  />
);
