import Button from "@mui/material/Button";
import { useMemo, useState, type ReactNode } from "react";
import type { Character } from "~core/model/character";
import { COVERED_SYSTEMS, coverage, type CoverageItem } from "~core/shapes/coverage/coverage";
import { useSession, useSessionStore } from "../../../session/session";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { useQueryState } from "../../../ui/useQueryState";
import { MixEditor } from "./MixEditor";
import { showMoment } from "../../../session/slices/view";

const MARK: Readonly<
  Record<CoverageItem["state"], { readonly glyph: string; readonly word: string; readonly color: string }>
> = {
  shape: { glyph: "●", word: "shape", color: "var(--accent)" },
  mix: { glyph: "◍", word: "mix", color: "var(--accent)" },
  half: { glyph: "◐", word: "one side", color: "var(--amber)" },
  missing: { glyph: "○", word: "missing", color: "var(--muted)" },
};
const TITLES: Readonly<Record<CoverageItem["system"], string>> = {
  "action units": "Action units (FACS)",
  visemes: "Visemes (MPEG-4)",
  expressions: "Expressions (MPEG-4)",
  presets: "Presets (VRM 1.0)",
};

/**
 * Which units, visemes, expressions and presets the face can do, by a shape or by a mix; what is missing can be begun
 * from the units.
 */
export function Coverage(): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded?.character);
  const [open, setOpen] = useQueryState<string>("mix", "");
  const items = useMemo(() => (character ? coverage(character) : []), [character]);
  if (!character) return <p className="muted p-8-18">Fetching the character</p>;
  const own = (character.mixes ?? []).filter((m) => !items.some((i) => i.key === m.name));
  const show = (weights: Record<string, number>): void =>
    showMoment(store, { weights, framing: "face", reading: "skin" });
  const choose = (item: CoverageItem): void => {
    setOpen(open === item.key ? "" : item.key);
    show(
      item.mix
        ? Object.fromEntries(item.mix.shares.map((s) => [s.shape, s.weight]))
        : Object.fromEntries(item.shapes.map((s) => [s, 1])),
    );
  };
  return (
    <>
      <CoverageHead items={items} />
      <div className="sheet-body">
        {COVERED_SYSTEMS.map((system) => {
          const list = items.filter((i) => i.system === system);
          return (
            <section key={system} aria-label={TITLES[system]}>
              <div className="group-title">
                {TITLES[system]}{" "}
                <span className="mono w-400">
                  {list.filter((i) => i.state === "shape" || i.state === "mix").length}/{list.length}
                </span>
              </div>
              <div className="board">
                {list.map((item) => (
                  <Cell key={item.key} item={item} open={open === item.key} onOpen={() => choose(item)} />
                ))}
              </div>
              {list.map((item) => (item.key === open ? <Opened key={item.key} item={item} /> : null))}
            </section>
          );
        })}
        <OwnMixes mixes={own} open={open} onOpen={setOpen} show={show} />
      </div>
    </>
  );
}

interface CoverageHeadProps {
  readonly items: readonly CoverageItem[];
}
/** How much is covered; what can be begun is begun at once. */
function CoverageHead({ items }: CoverageHeadProps): ReactNode {
  const { addStep } = useDesk();
  const covered = items.filter((i) => i.state === "shape" || i.state === "mix").length;
  const starts = items.flatMap((i) => (i.start ? [i.start] : []));
  return (
    <div className="sheet-tools p-10-18-8 m-0">
      <span className="grow nowrap">
        {covered} of {items.length} covered
      </span>
      {starts.length > 0 && (
        <Button
          variant="contained"
          onClick={() =>
            void addStep({
              op: "set mix",
              mixes: starts.map((m) => ({ name: m.name, shares: m.shares.map((s) => ({ ...s })) })),
            })
          }
          title={
            "Begins every expression, viseme and preset that has " +
            "no shape as a mix of the action units that are there"
          }>
          Begin {counted(starts.length, "mixes")}
        </Button>
      )}
    </div>
  );
}

interface CellProps {
  readonly item: CoverageItem;
  readonly open: boolean;
  readonly onOpen: () => void;
}
function Cell({ item, open, onOpen }: CellProps): ReactNode {
  return (
    <button
      type="button"
      className="board-cell"
      aria-label={`${item.key}, ${item.says}: ${MARK[item.state].word}`}
      aria-pressed={open}
      onClick={onOpen}
      title={[item.shapes.join(" and ") || MARK[item.state].word, item.mix && "as a mix"].filter(Boolean).join(", ")}>
      <span className="mono" style={{ color: MARK[item.state].color }}>
        <span aria-hidden>{MARK[item.state].glyph}</span> {item.key}
      </span>
      <span className="muted">
        {item.key.toLowerCase() === item.says.replaceAll(" ", "") ? MARK[item.state].word : item.says}
      </span>
    </button>
  );
}

interface OwnMixesProps {
  readonly mixes: NonNullable<Character["mixes"]>;
  readonly open: string;
  readonly onOpen: (name: string) => void;
  readonly show: (weights: Record<string, number>) => void;
}
/** Mixes that answer to no standard; what stands on the stage can be kept as one. */
function OwnMixes({ mixes, open, onOpen, show }: OwnMixesProps): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const [name, setName] = useState("");
  const stage = Object.entries(store.getState().weights).filter(([, w]) => w !== 0);
  const keepStage = async (): Promise<void> => {
    const { loaded, weights } = store.getState();
    const shares = Object.entries(weights)
      .filter(([n, w]) => w !== 0 && loaded?.character.shapes.some((s) => s.name === n))
      .map(([shape, weight]) => ({ shape, weight }));
    if (shares.length && (await addStep({ op: "set mix", mixes: [{ name: name.trim(), shares }] }))) {
      onOpen(name.trim());
      setName("");
    }
  };
  return (
    <section aria-label="Own mixes">
      <div className="group-title">
        Mixes of your own <span className="mono w-400">{mixes.length}</span>
      </div>
      {mixes.length > 0 && (
        <div className="board">
          {mixes.map((m) => (
            <button
              key={m.name}
              type="button"
              className="board-cell"
              aria-pressed={open === m.name}
              onClick={() => {
                onOpen(open === m.name ? "" : m.name);
                show(Object.fromEntries(m.shares.map((s) => [s.shape, s.weight])));
              }}>
              <span className="mono ink-accent">
                <span aria-hidden>◍</span> {m.name}
              </span>
              <span className="muted">{counted(m.shares.length, "shapes")}</span>
            </button>
          ))}
        </div>
      )}
      {mixes.map((m) => (m.name === open ? <MixEditor key={m.name} mix={m} /> : null))}
      <div className="line p-8-18-16">
        <input
          className="field mono wide-160"
          value={name}
          onChange={(e) => setName(e.target.value)}
          placeholder="Name"
          aria-label="Name of the mix"
          maxLength={120}
        />
        <Button disabled={!name.trim()} onClick={() => void keepStage()}>
          Keep the weights on the stage as a mix
        </Button>
        {stage.length === 0 && <span className="muted t-small">Set weights in the list first.</span>}
      </div>
    </section>
  );
}

function Opened({ item }: { item: CoverageItem }): ReactNode {
  const { addStep } = useDesk();
  if (item.mix) return <MixEditor mix={item.mix} />;
  if (item.state === "shape" || item.state === "half")
    return (
      <div className="board-open">
        <span className="mono">{item.shapes.join(" and ")}</span>{" "}
        <span className="muted">{item.state === "half" ? "does one side; mirror it at Make." : "does it."}</span>
      </div>
    );
  if (!item.start)
    return (
      <div className="board-open muted">
        No shape does it, and too few of the units it is made of are here. Make it by hand, or bring it from files or
        from another character.
      </div>
    );
  return (
    <div className="board-open line">
      <span>
        Can begin as <span className="mono">{item.start.shares.map((s) => `${s.shape} ${s.weight}`).join(" + ")}</span>
      </span>
      <Button
        variant="contained"
        onClick={() =>
          void addStep({
            op: "set mix",
            mixes: [{ name: item.start!.name, shares: item.start!.shares.map((s) => ({ ...s })) }],
          })
        }>
        Begin the mix
      </Button>
    </div>
  );
}
