import { useMemo, type ReactNode } from "react";
import { BufferAttribute, BufferGeometry } from "three";

/** The floor line under the figure with a tick every 10 cm. */
export function FloorTicks(): ReactNode {
  const geometry = useMemo(() => {
    const points: number[] = [-1.2, 0, 0, 1.2, 0, 0];
    for (let i = -12; i <= 12; i++) points.push(i / 10, 0, 0, i / 10, i % 5 === 0 ? -0.03 : -0.015, 0);
    return new BufferGeometry().setAttribute("position", new BufferAttribute(Float32Array.from(points), 3));
  }, []);
  return (
    <lineSegments geometry={geometry}>
      <lineBasicMaterial color="#5B6670" transparent opacity={0.55} />
    </lineSegments>
  );
}
