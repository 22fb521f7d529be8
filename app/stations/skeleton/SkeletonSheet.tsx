import type { ReactNode } from "react";
import { FindingList } from "../FindingList";
import { stationWord } from "../stationWord";
import { SheetHead } from "../../ui/SheetHead";
import { Segmented } from "../../ui/Segmented";
import { useQueryState } from "../../ui/useQueryState";
import { BendList } from "./BendList";
import { JointMap } from "./JointMap";
import { RestPose } from "./RestPose";
import { WeightTools } from "./WeightTools";

const LEAVES = ["bend", "map", "rest", "weights", "findings"] as const;
type Leaf = (typeof LEAVES)[number];

const VIEWS: Readonly<Record<Leaf, ReactNode>> = {
  bend: <BendList />,
  map: <JointMap />,
  rest: <RestPose />,
  weights: <WeightTools />,
  findings: <FindingList only={(c) => stationWord(c) === "Skeleton"} />,
};

/** Joints: bend any of them within its range, see its weights; the humanoid map; findings. */
export function SkeletonSheet(): ReactNode {
  const [leaf, setLeaf] = useQueryState<Leaf>("leaf", "bend", LEAVES);
  return (
    <div className="sheet">
      <SheetHead
        title="Skeleton"
        leaves={
          <Segmented
            label="Leaf"
            options={LEAVES}
            value={leaf}
            onChange={setLeaf}
            names={{ bend: "Joints", map: "Joint map", rest: "Rest pose", weights: "Weights", findings: "Findings" }}
          />
        }
      />
      {VIEWS[leaf]}
    </div>
  );
}
