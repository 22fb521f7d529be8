import { lazy, Suspense, useEffect, useMemo, type ReactNode } from "react";
import { fetchWhenClear, picturesFirst, wayIsClear } from "../../session/clearWay";
import { useSession } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { expectPictures } from "../../stage/pictures/picturesClient";
import { Progress } from "../../ui/Progress";
import { Segmented } from "../../ui/Segmented";
import { SheetHead } from "../../ui/SheetHead";
import { useQueryState } from "../../ui/useQueryState";
import { stationWord } from "../stationWord";
import { ShapeProof } from "./ShapeProof";
import { shapeRows, type ShapeRow } from "./shapeRows";
import { useShapeReadings } from "./useShapeReadings";

/** Fetched once the pictures of the proof in sight are drawn, or when they are asked for. */
const fetchMake = async () => ({ default: (await import("./make/MakeLeaf")).MakeLeaf });
const fetchCoverage = async () => ({ default: (await import("./coverage/Coverage")).Coverage });
const fetchList = async () => ({ default: (await import("./ShapeList")).ShapeList });
const fetchFindings = async () => ({ default: (await import("../FindingList")).FindingList });
const MakeLeaf = lazy(fetchMake);
const Coverage = lazy(fetchCoverage);
const ShapeList = lazy(fetchList);
const FindingList = lazy(fetchFindings);

const LEAVES = ["proof", "list", "make", "coverage", "findings"] as const;
type Leaf = (typeof LEAVES)[number];

/** Leaves that need no reading of the shapes. */
const VIEWS: Readonly<Partial<Record<Leaf, ReactNode>>> = {
  findings: <FindingList only={(c) => stationWord(c) === "Shapes"} />,
  make: <MakeLeaf />,
  coverage: <Coverage />,
};

/** Shapes: the proof of all of them at full, the list with weights, findings. */
export function ShapesSheet(): ReactNode {
  const [leaf, setLeaf] = useQueryState<Leaf>("leaf", "proof", LEAVES);
  const loaded = useSession((s) => s.loaded);
  const { findings } = useCharacterPage();
  const { readings, share, cancel } = useShapeReadings(loaded);
  useEffect(() => {
    if (leaf !== "proof") return;
    expectPictures();
    picturesFirst();
    return wayIsClear;
  }, [leaf]);
  useEffect(() => {
    if (loaded?.character.shapes.length === 0) wayIsClear();
  }, [loaded]);
  useEffect(() => fetchWhenClear(() => Promise.all([fetchMake(), fetchCoverage(), fetchList(), fetchFindings()])), []);
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
      <Suspense fallback={<p className="muted p-8-18">Opening</p>}>
        {VIEWS[leaf] ?? <ShapeRows rows={rows} leaf={leaf} />}
      </Suspense>
    </div>
  );
}

function ShapeRows({ rows, leaf }: { rows: readonly ShapeRow[] | null; leaf: Leaf }): ReactNode {
  if (!rows) return <p className="muted p-8-18">Fetching the character</p>;
  if (rows.length === 0)
    return (
      <p className="p-8-18">
        This delivery has no shapes yet. Make some: by hand, from target files, or from another character of the cast.
      </p>
    );
  return leaf === "proof" ? <ShapeProof rows={rows} /> : <ShapeList rows={rows} />;
}
