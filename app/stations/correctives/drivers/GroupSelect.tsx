import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { ReactNode } from "react";
import { DRIVER_GROUPS, type DriverGroup } from "~core/model/poseDriver";

interface GroupSelectProps {
  readonly of: string;
  readonly group: DriverGroup;
  readonly onSet: (group: DriverGroup) => void;
}

/** The group with which a driver is switched on and off. */
export const GroupSelect = ({ of, group, onSet }: GroupSelectProps): ReactNode => (
  <Select
    variant="standard"
    disableUnderline
    value={group}
    onChange={(e) => onSet(e.target.value)}
    inputProps={{ "aria-label": `${of}: group` }}>
    {DRIVER_GROUPS.map((g) => (
      <MenuItem key={g} value={g}>
        {g}
      </MenuItem>
    ))}
  </Select>
);
