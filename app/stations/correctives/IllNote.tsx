import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useSessionStore } from "../../session/session";
import { showPlace } from "../../session/slices/selection";

/** Vertices whose own skinning cannot be inverted well: how many, and where. */
export function IllNote({
  part,
  vertices,
  version,
}: {
  part: string;
  vertices: readonly number[];
  version?: number;
}): ReactNode {
  const store = useSessionStore();
  if (vertices.length === 0) return null;
  return (
    <div className="line t-small ink-amber" data-version={version} role="status">
      ◆ {vertices.length} vertices are squashed by this pose; their movement is damped.
      <Button onClick={() => showPlace(store, { part, vertices })}>Show</Button>
    </div>
  );
}
