import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import { useMemo, useState, type ReactNode } from "react";
import { SHAPE_REGIONS } from "~core/measure/shapeRegion";
import {
  CHOICE_MANNERS,
  chosenShapes,
  KEEP_ALL,
  shapeRegions,
  type ChoiceRule,
  type Chosen,
  type ShapeChoice,
} from "~core/shapes/choice/chooseShapes";
import { useSession, useSessionStore } from "../../session/session";
import { setWeight } from "../../session/slices/view";
import { useRuleDraft } from "../../session/kept/useRuleDraft";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { FindField } from "../../ui/FindField";

const MANNER_WORDS: Readonly<Record<ChoiceRule["by"], string>> = {
  word: "with the word",
  wildcard: "named",
  region: "in the region",
};

/**
 * Which of a long list of shapes are kept, by rules in order; favourites stay whatever the rules say. Nothing is lost:
 * what is left out can be chosen again.
 */
export function ShapeChoices(): ReactNode {
  const character = useSession((s) => s.loaded?.character);
  const { addStep } = useDesk();
  const saved: ShapeChoice = useMemo(
    () =>
      character?.shapeChoice
        ? {
            rules: character.shapeChoice.rules.map((r) => ({ ...r })),
            favourites: [...character.shapeChoice.favourites],
          }
        : KEEP_ALL,
    [character],
  );
  const { id } = useCharacterPage().character;
  const [draft, setDraft] = useRuleDraft<{ of: string; choice: ShapeChoice }>({
    character: id,
    of: "shapes",
    title: "rules for which shapes are kept",
    place: { station: "intake", query: { leaf: "shapes" } },
    isEmpty: (d) => JSON.stringify(d.choice) === d.of,
    amount: (d) => `${counted(d.choice.rules.length, "rules")}, ${counted(d.choice.favourites.length, "favourites")}`,
  });
  const [find, setFind] = useState("");
  const savedText = JSON.stringify(saved);
  const choice = draft?.of === savedText ? draft.choice : saved;
  const usable = useMemo(() => ({ ...choice, rules: choice.rules.filter((r) => r.text.trim()) }), [choice]);
  const regions = useMemo(() => (character ? shapeRegions(character) : null), [character]);
  const chosen = useMemo(
    () => (character && regions ? chosenShapes(character, usable, regions) : []),
    [character, regions, usable],
  );
  if (!character) return <p className="muted p-8-18">Fetching the character</p>;
  const change = (to: Partial<ShapeChoice>): void => setDraft({ of: savedText, choice: { ...choice, ...to } });
  const like = (name: string): void =>
    change({
      favourites: choice.favourites.includes(name)
        ? choice.favourites.filter((n) => n !== name)
        : [...choice.favourites, name],
    });
  const now = new Set(character.shapes.map((s) => s.name));
  const changes = chosen.filter((c) => c.kept !== now.has(c.shape.name)).length;
  const keep = async (): Promise<void> => {
    const rules = usable.rules.map((r) => ({ ...r, text: r.text.trim() }));
    if (await addStep({ op: "choose shapes", choice: { rules, favourites: [...usable.favourites] } })) setDraft(null);
  };
  return (
    <>
      <div className="p-10-18-8 stack gap-6 items-start">
        <RuleList rules={choice.rules} chosen={chosen} onChange={(list) => change({ rules: list })} />
        <div className="line wide one-row">
          <FindField label="Find a shape" value={find} onChange={setFind} />
          <b className="nowrap t-small" role="status">
            {chosen.filter((c) => c.kept).length} of {chosen.length} kept
          </b>
          <Button
            variant="contained"
            disabled={changes === 0 && JSON.stringify(usable) === savedText}
            onClick={() => void keep()}>
            {changes ? `Change ${changes}` : "Keep the rules"}
          </Button>
        </div>
      </div>
      <div className="sheet-body">
        {chosen.length === 0 && <p className="muted p-8-18">The delivery has no shapes.</p>}
        <ChosenList chosen={found(chosen, find)} present={now} favourites={choice.favourites} onLike={like} />
      </div>
    </>
  );
}

const found = (chosen: readonly Chosen[], text: string): readonly Chosen[] =>
  chosen.filter((c) => `${c.shape.name} ${c.shape.label} ${c.region}`.toLowerCase().includes(text.toLowerCase()));

interface RuleListProps {
  readonly rules: readonly ChoiceRule[];
  readonly chosen: readonly Chosen[];
  readonly onChange: (rules: ChoiceRule[]) => void;
}

/** The rules in their order. */
function RuleList({ rules, chosen, onChange }: RuleListProps): ReactNode {
  const swap = (i: number, j: number): void => {
    const next = [...rules];
    [next[i], next[j]] = [rules[j]!, rules[i]!];
    onChange(next);
  };
  return (
    <>
      {rules.map((rule, i) => (
        <div key={i} className="line gap-6 t-small one-row wide" role="group" aria-label={`Rule ${i + 1}`}>
          <span className="mono muted wide-16">{i + 1}</span>
          <RuleFields
            rule={rule}
            number={i + 1}
            onChange={(to) => onChange(rules.map((r, k) => (k === i ? { ...r, ...to } : r)))}
          />
          <span className="mono muted nowrap wide-82 to-right">
            decides {chosen.filter((c) => c.because === i + 1).length}
          </span>
          <IconButton size="small" aria-label={`Rule ${i + 1} up`} disabled={i === 0} onClick={() => swap(i, i - 1)}>
            ↑
          </IconButton>
          <IconButton
            size="small"
            aria-label={`Rule ${i + 1} down`}
            disabled={i === rules.length - 1}
            onClick={() => swap(i, i + 1)}>
            ↓
          </IconButton>
          <IconButton
            size="small"
            aria-label={`Take rule ${i + 1} out`}
            onClick={() => onChange(rules.filter((_, k) => k !== i))}>
            ×
          </IconButton>
        </div>
      ))}
      <div className="line wide">
        <Button onClick={() => onChange([...rules, { keep: false, by: "word", text: "" }])}>Add a rule</Button>
        <span className="muted grow t-small">
          {rules.length
            ? "Later rules go over earlier ones; driven shapes and favourites stay."
            : "Without rules all shapes are kept."}
        </span>
      </div>
    </>
  );
}

interface RuleFieldsProps {
  readonly rule: ChoiceRule;
  readonly number: number;
  readonly onChange: (to: Partial<ChoiceRule>) => void;
}

/** What a rule does, how it finds shapes, and the text by which. */
function RuleFields({ rule, number, onChange }: RuleFieldsProps): ReactNode {
  const changeManner = (by: ChoiceRule["by"]): void => onChange({ by, text: by === "region" ? SHAPE_REGIONS[0] : "" });
  return (
    <>
      <Select
        variant="standard"
        disableUnderline
        value={rule.keep ? "keep" : "leave out"}
        onChange={(e) => onChange({ keep: e.target.value === "keep" })}
        sx={{ fontSize: 12.5, width: 84 }}
        inputProps={{ "aria-label": `Rule ${number}: keep or leave out` }}>
        <MenuItem value="keep">keep</MenuItem>
        <MenuItem value="leave out">leave out</MenuItem>
      </Select>
      <Select
        variant="standard"
        disableUnderline
        value={rule.by}
        onChange={(e) => changeManner(e.target.value as ChoiceRule["by"])}
        sx={{ fontSize: 12.5, width: 116 }}
        inputProps={{ "aria-label": `Rule ${number}: by` }}>
        {CHOICE_MANNERS.map((m) => (
          <MenuItem key={m} value={m}>
            {MANNER_WORDS[m]}
          </MenuItem>
        ))}
      </Select>
      {rule.by === "region" ? (
        <Select
          variant="standard"
          disableUnderline
          value={rule.text}
          onChange={(e) => onChange({ text: e.target.value })}
          sx={{ fontSize: 12.5, flex: 1 }}
          inputProps={{ "aria-label": `Rule ${number}: region` }}>
          {SHAPE_REGIONS.map((r) => (
            <MenuItem key={r} value={r}>
              {r}
            </MenuItem>
          ))}
        </Select>
      ) : (
        <TextField
          value={rule.text}
          onChange={(e) => onChange({ text: e.target.value })}
          placeholder={rule.by === "wildcard" ? "AU1*" : "left"}
          sx={{ flex: 1, minWidth: 80 }}
          slotProps={{ htmlInput: { "aria-label": `Rule ${number}: text`, className: "mono", maxLength: 200 } }}
        />
      )}
    </>
  );
}

interface ChosenListProps {
  readonly chosen: readonly Chosen[];
  /** Names of the shapes that the character has now. */
  readonly present: ReadonlySet<string>;
  readonly favourites: readonly string[];
  readonly onLike: (name: string) => void;
}

/** The shapes by region, each with what was decided of it. */
function ChosenList({ chosen, present, favourites, onLike }: ChosenListProps): ReactNode {
  return SHAPE_REGIONS.map((region) => {
    const own = chosen.filter((c) => c.region === region);
    if (!own.length) return null;
    return (
      <section key={region} aria-label={region}>
        <div className="group-title">
          {region[0]!.toUpperCase() + region.slice(1)}{" "}
          <span className="mono w-400">
            {own.filter((c) => c.kept).length}/{own.length}
          </span>
        </div>
        {own.map((c) => (
          <div key={c.shape.name} className="row choice-row">
            <ChosenRow
              chosen={c}
              isPresent={present.has(c.shape.name)}
              isFavourite={favourites.includes(c.shape.name)}
              onLike={() => onLike(c.shape.name)}
            />
          </div>
        ))}
      </section>
    );
  });
}

interface ChosenRowProps {
  readonly chosen: Chosen;
  readonly isPresent: boolean;
  readonly isFavourite: boolean;
  readonly onLike: () => void;
}

function ChosenRow({ chosen, isPresent, isFavourite, onLike }: ChosenRowProps): ReactNode {
  const store = useSessionStore();
  const { shape, kept } = chosen;
  const weight = useSession((s) => s.weights[shape.name]);
  return (
    <div className="row-line py-2 min-h-28 cursor-default">
      <button
        type="button"
        className="plain"
        aria-pressed={isFavourite}
        aria-label={`${shape.name} is a favourite`}
        onClick={onLike}
        style={{ width: 18, flex: "none", color: isFavourite ? "var(--accent)" : "var(--muted)" }}>
        {isFavourite ? "★" : "☆"}
      </button>
      <button
        type="button"
        className="plain mono"
        disabled={!isPresent}
        onClick={() => setWeight(store, shape.name, weight ? 0 : 1)}
        title="Shows it on the stage"
        style={{
          width: 170,
          flex: "none",
          overflow: "hidden",
          textOverflow: "ellipsis",
          whiteSpace: "nowrap",
          opacity: kept ? 1 : 0.55,
        }}>
        {shape.name}
      </button>
      <span className="muted grow t-12">{shape.label === shape.name ? "" : shape.label}</span>
      <span className="nowrap" style={{ fontSize: 12, color: kept ? "var(--muted)" : "var(--amber)" }}>
        {kept ? "kept" : "left out"}
        {reason(chosen)}
      </span>
    </div>
  );
}

const reason = ({ because }: Chosen): string =>
  because === "no rule" ? "" : typeof because === "number" ? ` by ${because}` : `, ${because}`;
