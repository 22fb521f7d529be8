import { useMemo, type ReactNode } from "react";
import { useSession } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { Progress } from "../../ui/Progress";
import { Segmented } from "../../ui/Segmented";
import { SheetHead } from "../../ui/SheetHead";
import { useQueryState } from "../../ui/useQueryState";
import { FindingList } from "../FindingList";
import { stationWord } from "../stationWord";
import { Coverage } from "./coverage/Coverage";
import { MakeLeaf } from "./make/MakeLeaf";
import { ShapeList } from "./ShapeList";
import { ShapeProof } from "./ShapeProof";
import { shapeRows } from "./shapeRows";
import { useShapeReadings } from "./useShapeReadings";

const LEAVES = ["proof", "list", "make", "coverage", "findings"] as const;
type Leaf = (typeof LEAVES)[number];

/** Shapes: the proof of all of them at full, the list with weights, findings. */
export function ShapesSheet(): ReactNode {
  const [leaf, setLeaf] = useQueryState<Leaf>("leaf", "proof");
  const loaded = useSession((s) => s.loaded);
  const { findings } = useCharacterPage();
  const { readings, share, cancel } = useShapeReadings(loaded);
  const rows = useMemo(() => (loaded ? shapeRows(loaded, readings, findings) : null), [loaded, readings, findings]);
  return (
    <div className="sheet">
      <SheetHead
        title="Shapes"
        leaves={
          <Segmented
            label="Leaf"
            options={LEAVES}
            value={leaf}
            onChange={setLeaf}
            names={{ proof: "Proof", list: "List", make: "Make", coverage: "Coverage", findings: "Findings" }}
          />
        }>
        {share !== null && <Progress title="Measuring every shape" share={share} onCancel={cancel} />}
      </SheetHead>
      {leaf === "findings" ? (
        <FindingList only={(c) => stationWord(c) === "Shapes"} />
      ) : leaf === "make" ? (
        <MakeLeaf />
      ) : leaf === "coverage" ? (
        <Coverage />
      ) : !rows ? (
        <p className="muted" style={{ padding: "8px 18px" }}>
          Fetching the character
        </p>
      ) : rows.length === 0 ? (
        <p style={{ padding: "8px 18px" }}>
          This delivery has no shapes yet. Make some: by hand, from target files, or from another character of the cast.
        </p>
      ) : leaf === "proof" ? (
        <ShapeProof rows={rows} />
      ) : (
        <ShapeList rows={rows} />
      )}
    </div>
  );
}
