import { lazy, Suspense, useEffect, type ComponentType, type LazyExoticComponent, type ReactNode } from "react";
import { useLocation, useSearchParams } from "react-router";
import { clearWay, fetchWhenClear } from "../session/clearWay";

type Lazy = LazyExoticComponent<ComponentType>;
const ALL: (() => Promise<unknown>)[] = [];
/** Fetched after what is seen first. */
function later(fetch: () => Promise<ComponentType>): Lazy {
  ALL.push(fetch);
  return lazy(() =>
    clearWay()
      .then(fetch)
      .then((found) => ({ default: found })),
  );
}
const Delivery = later(async () => (await import("../stations/intake/DeliveryEvidence")).DeliveryEvidence);
const Joint = later(async () => (await import("../stations/skeleton/JointEvidence")).JointEvidence);
const Shape = later(async () => (await import("../stations/shapes/ShapeEvidence")).ShapeEvidence);
const Sweep = later(async () => (await import("../stations/correctives/SweepEvidence")).SweepEvidence);
const Ruler = later(async () => (await import("../stations/trials/ruler/RulerEvidence")).RulerEvidence);
const Cloth = later(async () => (await import("../stations/trials/ClothEvidence")).ClothEvidence);
const Face = later(async () => (await import("../stations/trials/FaceEvidence")).FaceEvidence);
const Receipt = later(async () => (await import("../stations/handoff/ReceiptEvidence")).ReceiptEvidence);

const OF_STATION: Readonly<Record<string, ReactNode>> = {
  intake: <Delivery />,
  skeleton: <Joint />,
  shapes: <Shape />,
  handoff: <Receipt />,
};
const OF_TRIAL: Readonly<Record<string, ReactNode>> = {
  clips: <Ruler />,
  face: <Ruler />,
  lines: <Ruler />,
  walk: <Joint />,
  combined: <Joint />,
  cloth: <Cloth />,
  pairs: <Face />,
  mixes: <Face />,
};
const evidenceOf = (station: string, leaf: string): ReactNode =>
  OF_STATION[station] ?? ((station === "trials" && OF_TRIAL[leaf]) || <Sweep />);

/** The strip under the stage: what belongs to the selection of the station that is open. */
export function Evidence(): ReactNode {
  const station = useLocation().pathname.split("/").pop() ?? "";
  const leaf = useSearchParams()[0].get("leaf") ?? "";
  // all of it is here before it is asked for, also where the server is not any more
  useEffect(() => fetchWhenClear(() => Promise.all(ALL.map((fetch) => fetch()))), []);
  return (
    <section className="evidence" aria-label="Evidence">
      <Suspense fallback={null}>{evidenceOf(station, leaf)}</Suspense>
    </section>
  );
}
