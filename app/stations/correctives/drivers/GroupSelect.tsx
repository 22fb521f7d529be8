import type { ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { DRIVER_GROUPS, type DriverGroup } from "~core/model/poseDriver";

interface GroupSelectProps {
  readonly of: string;
  readonly group: DriverGroup;
  readonly onSet: (group: DriverGroup) => void;
}

/** The group with which a driver is switched on and off. */
export const GroupSelect = ({ of, group, onSet }: GroupSelectProps): ReactNode => (
  <SmallSelect label={`${of}: group`} value={group} onChange={onSet} size={13} options={DRIVER_GROUPS} />
);
