import { NO_JOINT, type Skeleton } from "../model/character";

/** Whether a joint hangs on another, directly or through others; not on itself. */
export function hangsUnder({ joints }: Skeleton, joint: number, top: number | undefined): boolean {
  if (top === undefined) return false;
  for (let k = joints[joint]!.parent; k !== NO_JOINT; k = joints[k]!.parent) if (k === top) return true;
  return false;
}
