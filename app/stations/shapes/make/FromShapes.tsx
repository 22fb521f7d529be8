import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useMemo, useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { useSearchParams } from "react-router";
import { useSession, useSessionStore } from "../../../session/session";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";
import { DERIVE_WAYS, plannedShapes, type DeriveWay } from "./plannedShapes";
import { ShapePick } from "./ShapePick";
import { setView } from "../../../session/slices/view";

const WAY_WORDS: Readonly<Record<DeriveWay, string>> = {
  mix: "mix on stage",
  mirror: "mirror",
  sides: "left and right",
  parts: "one part",
};

/** New shapes from the ones that are there; every name is shown before anything is made. */
export function FromShapes(): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded?.character);
  const weights = useSession((s) => s.weights);
  const { addStep } = useDesk();
  const [query] = useSearchParams();
  const [way, setWay] = useState<DeriveWay>("mix");
  const [of, setOf] = useState<string | null>(query.get("open"));
  const [seamMm, setSeam] = useState(10);
  const [part, setPart] = useState("");
  const [less, setLess] = useState<string | null>(null);
  const [name, setName] = useState("");
  const [told, setTold] = useState("");
  const names = useMemo(() => character?.shapes.map((s) => s.name) ?? [], [character]);
  if (!character) return <p className="muted">Fetching the character</p>;
  const planned = plannedShapes(character, {
    way,
    of,
    seamMm,
    part: part || character.parts[0]!.name,
    name,
    weights,
    less,
  });
  const make = async (): Promise<void> => {
    if (!(await addStep({ op: "derive shapes", items: [...planned.items] }))) return;
    setTold(`${planned.items.map((i) => i.name).join(" and ")} made.`);
    if (way === "mix") setView(store, { weights: { [planned.items[0]!.name]: 1 } });
    setName("");
  };
  const moved =
    (of && character.shapes.find((s) => s.name === of)?.deltas.map((d) => character.parts[d.part]!.name)) || [];
  return (
    <div className="stack gap-10 items-start">
      <Segmented
        label="How it is made"
        options={DERIVE_WAYS}
        value={way}
        onChange={(w) => {
          setWay(w);
          setTold("");
        }}
        names={WAY_WORDS}
      />
      <MadeOf
        way={way}
        names={names}
        source={planned.source}
        of={of}
        less={less}
        moved={moved}
        part={part}
        seamMm={seamMm}
        onOf={(n) => {
          setOf(n);
          setTold("");
        }}
        onLess={(n) => {
          setLess(n);
          setTold("");
        }}
        onPart={setPart}
        onSeam={setSeam}
      />
      <div className="line">
        {way !== "sides" && (
          <TextField
            value={name}
            onChange={(e) => {
              setName(e.target.value);
              setTold("");
            }}
            placeholder={planned.items[0]?.name ?? "Name"}
            sx={{ width: 210 }}
            slotProps={{ htmlInput: { "aria-label": "Name of the new shape", className: "mono", maxLength: 120 } }}
          />
        )}
        <Button
          variant="contained"
          disabled={planned.items.length === 0 || planned.refused !== ""}
          onClick={() => void make()}>
          {planned.items.length > 1 ? `Make ${counted(planned.items.length, "shapes")}` : "Make the shape"}
        </Button>
        <span className="muted t-small" role="status">
          {told || planned.refused || (way === "sides" ? planned.items.map((i) => i.name).join(" and ") : "")}
        </span>
      </div>
    </div>
  );
}

interface MadeOfProps {
  readonly way: DeriveWay;
  readonly names: readonly string[];
  readonly source: string;
  readonly of: string | null;
  readonly less: string | null;
  readonly moved: readonly string[];
  readonly part: string;
  readonly seamMm: number;
  readonly onOf: (name: string | null) => void;
  readonly onLess: (name: string | null) => void;
  readonly onPart: (name: string) => void;
  readonly onSeam: (mm: number) => void;
}
/** What the new shape is made of, by the way it is made. */
function MadeOf({
  way,
  names,
  source,
  of,
  less,
  moved,
  part,
  seamMm,
  onOf,
  onLess,
  onPart,
  onSeam,
}: MadeOfProps): ReactNode {
  return (
    <div className="line t-small">
      {way === "mix" ? (
        <span>
          The weights on the stage become one shape: <span className="mono">{source || "all weights are 0"}</span>
        </span>
      ) : null}
      {way === "mix" && (
        <span className="line one-row">
          less <ShapePick label="Shape that is taken off" names={names} value={less} onChange={onLess} />
        </span>
      )}
      {way !== "mix" && <ShapePick label="Shape it is made of" names={names} value={of} onChange={onOf} />}
      {way === "sides" && (
        <span>
          soft over{" "}
          <ScrubField
            label="Half width of the seam"
            value={seamMm}
            min={0}
            max={60}
            step={0.5}
            digits={1}
            unit=" mm"
            start={10}
            onChange={onSeam}
          />{" "}
          to either side of the middle
        </span>
      )}
      {way === "parts" && (
        <SmallSelect
          label="Part that is taken out"
          value={moved.includes(part) ? part : (moved[0] ?? "")}
          onChange={onPart}
          options={moved}
        />
      )}
    </div>
  );
}
