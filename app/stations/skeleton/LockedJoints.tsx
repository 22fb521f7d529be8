import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useSession, useSessionStore } from "../../session/session";
import { lockJoints } from "../../session/slices/selection";

/** Joints whose weights stay as they are, whatever tool or brush is at work; the chosen joint can be added. */
export function LockedJoints(): ReactNode {
  const store = useSessionStore();
  const locked = useSession((s) => s.lockedJoints);
  const chosen = useSession((s) => s.joint);
  const set = (lockedJoints: readonly string[]): void => lockJoints(store, lockedJoints);
  return (
    <div className="line t-small">
      <span className="muted">{locked.length ? "locked" : "no joint locked"}</span>
      {locked.map((j) => (
        <Button key={j} onClick={() => set(locked.filter((x) => x !== j))} title="Unlock">
          <span className="mono">{j}</span> ×
        </Button>
      ))}
      {chosen && !locked.includes(chosen) && <Button onClick={() => set([...locked, chosen])}>Lock {chosen}</Button>}
    </div>
  );
}
