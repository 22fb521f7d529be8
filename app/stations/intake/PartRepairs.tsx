import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { faceCountOf, triangleCountOf, type Part } from "~core/model/character";
import type { Seat } from "~core/edits/repairs/seatPart";
import { useJob } from "../../session/jobs/useJob";
import { useSessionStore } from "../../session/session";
import { ScrubField } from "../../ui/ScrubField";
import { RepairTool } from "../RepairTool";
import { seatPart } from "../../session/slices/selection";
import { Refused } from "../../ui/Refused";

const AT_HOME: Seat = { moveMm: [0, 0, 0], turn: [0, 0, 0], scale: 1 };
const isHome = ({ moveMm, turn, scale }: Seat): boolean => scale === 1 && [...moveMm, ...turn].every((x) => x === 0);

/** Repairs of one part that answer no finding: weld, triangles, its seat on the body, skin that it covers. */
export function PartRepairs({ part }: { part: Part }): ReactNode {
  const store = useSessionStore();
  const [seat, setSeat] = useState<Seat>(AT_HOME);
  useEffect(() => {
    seatPart(store, isHome(seat) ? null : { part: part.name, ...seat });
    return () => seatPart(store, null);
  }, [store, part.name, seat]);

  const axis = (of: "moveMm" | "turn", k: 0 | 1 | 2): ReactNode => (
    <span>
      {"xyz"[k]}{" "}
      <ScrubField
        label={`${of === "moveMm" ? "Move along" : "Turn about"} ${"xyz"[k]}`}
        value={seat[of][k]}
        min={of === "moveMm" ? -3000 : -180}
        max={of === "moveMm" ? 3000 : 180}
        step={of === "moveMm" ? 0.5 : 0.25}
        digits={1}
        unit={of === "moveMm" ? " mm" : "°"}
        onChange={(x) =>
          setSeat({ ...seat, [of]: seat[of].map((old, i) => (i === k ? x : old)) as unknown as Seat["moveMm"] })
        }
      />
    </span>
  );
  return (
    <div className="p-4-18-12 stack gap-8">
      <RepairTool
        title="Seat"
        button="Seat it there"
        live
        repair={
          isHome(seat)
            ? null
            : { what: "seat", part: part.name, moveMm: [...seat.moveMm], turn: [...seat.turn], scale: seat.scale }
        }
        onDone={() => setSeat(AT_HOME)}>
        {axis("moveMm", 0)}
        {axis("moveMm", 1)}
        {axis("moveMm", 2)}
        <span>
          size{" "}
          <ScrubField
            label="Scale of the part"
            value={seat.scale}
            min={0.01}
            max={100}
            step={0.002}
            digits={3}
            start={1}
            onChange={(scale) => setSeat({ ...seat, scale })}
          />
        </span>
        <span className="line one-row">
          <span className="muted">turned</span>
          {axis("turn", 0)}
          {axis("turn", 1)}
          {axis("turn", 2)}
        </span>
        {(part.kind === "hair" || part.kind === "garment") && <OnTheHead part={part} onFit={setSeat} />}
      </RepairTool>
      <Weld part={part} />
      <RepairTool
        title="Triangles only"
        button="Cut faces"
        repair={triangleCountOf(part) > faceCountOf(part) ? { what: "triangulate", part: part.name } : null}
      />
      <RepairTool title="The part" button="Leave it out" repair={{ what: "leave out", part: part.name }}>
        <span className="muted">shapes keep what they do to the others</span>
      </RepairTool>
      {part.kind === "garment" && <CutCovered part={part} />}
    </div>
  );
}

interface OnTheHeadProps {
  readonly part: Part;
  readonly onFit: (seat: Seat) => void;
}
/** Hair and hats find their seat by themselves. */
function OnTheHead({ part, onFit }: OnTheHeadProps): ReactNode {
  const work = useJob("It could not be laid on the head.");
  const fit = async (): Promise<void> => {
    const found = await work.run("Laying it on the head", "head fit", { part: part.name });
    if (found) onFit(found);
  };
  return (
    <span className="line gap-4">
      <Button
        disabled={work.running !== null}
        onClick={() => void fit()}
        title="Where it lies most evenly on the head's upper half; looked at before it is kept">
        {work.running ? "Fitting" : "Put on the head"}
      </Button>
      <Refused why={work.refusal} />
    </span>
  );
}

interface WeldProps {
  readonly part: Part;
}
function Weld({ part }: WeldProps): ReactNode {
  const [within, setWithin] = useState(0.1);
  return (
    <RepairTool title="Weld doubles" button="Weld" repair={{ what: "weld", part: part.name, withinMm: within }}>
      <span>
        within{" "}
        <ScrubField
          label="Weld within"
          value={within}
          min={0.001}
          max={20}
          step={0.01}
          digits={3}
          unit=" mm"
          start={0.1}
          onChange={setWithin}
        />
      </span>
      <span className="muted">seams stay</span>
    </RepairTool>
  );
}

interface CutCoveredProps {
  readonly part: Part;
}
function CutCovered({ part }: CutCoveredProps): ReactNode {
  const [cover, setCover] = useState(2);
  return (
    <RepairTool
      title="Skin under it"
      button="Leave it out"
      repair={{ what: "cut covered", part: part.name, coverMm: cover }}>
      <span>
        covered by{" "}
        <ScrubField
          label="Covered by"
          value={cover}
          min={0}
          max={100}
          step={0.1}
          digits={1}
          unit=" mm"
          start={2}
          onChange={setCover}
        />{" "}
        or more
      </span>
    </RepairTool>
  );
}
