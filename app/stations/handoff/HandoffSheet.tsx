import type { ReactNode } from "react";
import type { HandOff } from "~server/services/handOffs";
import { Segmented } from "../../ui/Segmented";
import { SheetHead } from "../../ui/SheetHead";
import { useQueryState } from "../../ui/useQueryState";
import { LedgerList } from "./LedgerList";
import { PackageLeaf } from "./PackageLeaf";
import { ReceiptList } from "./ReceiptList";

const LEAVES = ["package", "receipts", "ledger"] as const;
type Leaf = (typeof LEAVES)[number];

/** Writing the character out with proof, the receipts of every version, the ledger. */
export function HandoffSheet({ handOffs }: { handOffs: readonly HandOff[] }): ReactNode {
  const [leaf, setLeaf] = useQueryState<Leaf>("leaf", "package", LEAVES);
  return (
    <div className="sheet">
      <SheetHead
        title="Hand-off"
        leaves={
          <Segmented
            label="Leaf"
            options={LEAVES}
            value={leaf}
            onChange={setLeaf}
            names={{ package: "Package", receipts: "Receipts", ledger: "Ledger" }}
          />
        }
      />
      <div className="sheet-body">
        {leaf === "package" ? (
          <PackageLeaf handOffs={handOffs} />
        ) : leaf === "receipts" ? (
          <ReceiptList handOffs={handOffs} />
        ) : (
          <LedgerList />
        )}
      </div>
    </div>
  );
}
