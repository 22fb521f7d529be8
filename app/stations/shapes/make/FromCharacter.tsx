import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import { useEffect, useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { isDriven, shapeNamed } from "~core/model/character";
import { transferable, type TransferResult } from "~core/transfer/transferShapes";
import { fetchCast, fetchCharacter, type CastEntry, type OtherCharacter } from "../../../session/otherCharacter";
import { Refusal } from "../../../session/ledgerClient";
import { useJob } from "../../../session/jobs/useJob";
import { useSession } from "../../../session/session";
import { shapeSteps } from "../../../session/shapeSteps";
import { useCharacterPage, useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { Progress } from "../../../ui/Progress";
import { Segmented } from "../../../ui/Segmented";

const WHICH = ["missing", "all"] as const;

/** Shapes of another member of the cast, carried over to this body. */
export function FromCharacter(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const page = useCharacterPage();
  const { addSteps } = useDesk();
  const [id, setId] = useState("");
  const [source, setSource] = useState<OtherCharacter | null>(null);
  const [which, setWhich] = useState<(typeof WHICH)[number]>("missing");
  const [result, setResult] = useState<TransferResult | null>(null);
  const [told, setTold] = useState("");
  const work = useJob("The shapes could not be carried over.");
  const { cast, unread } = useOthers(page.character.id);
  const said = told || unread || work.refusal;
  const choose = async (chosen: string): Promise<void> => {
    setId(chosen);
    setSource(null);
    setResult(null);
    setTold("");
    try {
      setSource(await fetchCharacter(chosen));
    } catch (e) {
      setTold(e instanceof Error ? e.message : "The character could not be fetched.");
    }
  };
  if (!loaded) return <p className="muted">Fetching the character</p>;
  const could = source ? transferable(source.character).filter((s) => !isDriven(source.character, s.name)) : [];
  const wanted = could.filter((s) => which === "all" || !shapeNamed(loaded.character, s.name)).map((s) => s.name);
  const carry = async (): Promise<void> => {
    if (!source) return;
    setTold("");
    const made = await work.run(`Carrying ${counted(wanted.length, "shapes")} over`, "transfer", {
      from: source.ref,
      shapes: wanted,
    });
    if (made) setResult(made);
  };
  const take = async (): Promise<void> => {
    if (!result || !source) return;
    if (!(await addSteps(await shapeSteps(loaded.character, result.shapes, true, source.character.name)))) return;
    setTold(
      `${counted(result.shapes.length, "shapes")} taken over from ` +
        `${source.character.name}. Check them now: the proof shows all of them.`,
    );
    setResult(null);
  };
  const replaced = result?.shapes.filter((s) => shapeNamed(loaded.character, s.name)).length ?? 0;
  return (
    <div className="stack gap-10 items-start">
      <div className="line t-small">
        <WhoFrom cast={cast} id={id} choose={choose} />
        {source && (
          <Segmented
            label="Which shapes"
            options={WHICH}
            value={which}
            onChange={(w) => {
              setWhich(w);
              setResult(null);
            }}
            names={{ missing: "those missing here", all: "all, replacing" }}
          />
        )}
      </div>
      {id && !source && !told && <span className="muted">Fetching the character</span>}
      {source && !work.running && !result && <CarryButton count={wanted.length} onCarry={() => void carry()} />}
      {work.running && (
        <div className="wide">
          <Progress {...work.running} onCancel={work.cancel} />
        </div>
      )}
      {result && (
        <Carried result={result} replaced={replaced} onTake={() => void take()} onDrop={() => setResult(null)} />
      )}
      {said && (
        <span role="status" className="t-small">
          {said}
        </span>
      )}
    </div>
  );
}

/** The cast but for this one; unread: why it could not be read. */
function useOthers(id: string): { readonly cast: readonly CastEntry[]; readonly unread: string } {
  const [unread, setUnread] = useState("");
  const [cast, setCast] = useState<readonly CastEntry[]>([]);
  useEffect(() => {
    fetchCast().then(
      (all) => setCast(all.filter((c) => c.id !== id)),
      (e: unknown) => setUnread(e instanceof Refusal ? e.message : "The cast could not be read."),
    );
  }, [id]);
  return { cast, unread };
}

interface CarryButtonProps {
  readonly count: number;
  readonly onCarry: () => void;
}
function CarryButton({ count, onCarry }: CarryButtonProps): ReactNode {
  return (
    <div className="line">
      <Button variant="contained" disabled={count === 0} onClick={onCarry}>
        {count ? `Carry ${counted(count, "shapes")} over` : "Nothing to carry over"}
      </Button>
      <span className="muted t-small">
        Every triangle of the skin deforms as there; lids and lips that meet there meet here.
      </span>
    </div>
  );
}

interface WhoFromProps {
  readonly cast: readonly CastEntry[];
  readonly id: string;
  readonly choose: (id: string) => Promise<void>;
}
function WhoFrom({ cast, id, choose }: WhoFromProps): ReactNode {
  return (
    <SmallSelect
      label="Character whose shapes are carried over"
      value={id}
      disabled={cast.length === 0}
      onChange={(value) => void choose(value)}
      size={13}>
      <MenuItem value="" disabled>
        Choose who from
      </MenuItem>
      {cast.map((c) => (
        <MenuItem key={c.id} value={c.id}>
          {c.name}
          <span className="muted ml-8 t-12">{c.role}</span>
        </MenuItem>
      ))}
    </SmallSelect>
  );
}

interface CarriedProps {
  readonly result: TransferResult;
  readonly replaced: number;
  readonly onTake: () => void;
  readonly onDrop: () => void;
}
/** What was carried over, before it is taken. */
function Carried({ result, replaced, onTake, onDrop }: CarriedProps): ReactNode {
  return (
    <>
      <p className="m-0 t-small">
        {result.how} {counted(result.shapes.length, "shapes")} are ready
        {replaced ? `; ${replaced} replace what is here` : ""}.
      </p>
      {result.leftOut.length > 0 && (
        <ul className="m-0 pl-18 t-small">
          {result.leftOut.map((l) => (
            <li key={l.name}>
              <span className="mono">{l.name}</span> left out. {l.why}
            </li>
          ))}
        </ul>
      )}
      <div className="line">
        <Button variant="contained" onClick={onTake}>
          Take {counted(result.shapes.length, "shapes")}
        </Button>
        <Button onClick={onDrop}>Drop them</Button>
      </div>
    </>
  );
}
