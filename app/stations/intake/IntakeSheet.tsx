import type { ReactNode } from "react";
import { FindingList } from "../FindingList";
import { SheetHead } from "../../ui/SheetHead";
import { Segmented } from "../../ui/Segmented";
import { useQueryState } from "../../ui/useQueryState";
import { Deliveries } from "./Deliveries";
import { DeliveryReport } from "./DeliveryReport";
import { Names } from "./Names";
import { PartsTable } from "./PartsTable";
import { ShapeChoices } from "./ShapeChoices";

const LEAVES = ["findings", "parts", "names", "shapes", "report", "deliveries"] as const;
type Leaf = (typeof LEAVES)[number];

const VIEWS: Readonly<Record<Leaf, ReactNode>> = {
  findings: <FindingList />,
  parts: <PartsTable />,
  names: <Names />,
  shapes: <ShapeChoices />,
  report: <DeliveryReport />,
  deliveries: <Deliveries />,
};

/** What came: findings first, then parts, then the report of the delivery. */
export function IntakeSheet(): ReactNode {
  const [leaf, setLeaf] = useQueryState<Leaf>("leaf", "findings", LEAVES);
  return (
    <div className="sheet">
      <SheetHead
        title="Intake"
        leaves={
          <Segmented
            label="Leaf"
            options={LEAVES}
            value={leaf}
            onChange={setLeaf}
            names={{
              findings: "Findings",
              parts: "Parts",
              names: "Names",
              shapes: "Shape choice",
              report: "Report",
              deliveries: "Deliveries",
            }}
          />
        }
      />
      {VIEWS[leaf]}
    </div>
  );
}
