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
  const store = useSessionStore();
  const character = useSession((s) => s.loaded?.character);
  const weights = useSession((s) => s.weights);
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
  const changeRule = (i: number, to: Partial<ChoiceRule>): void =>
    change({ rules: choice.rules.map((r, k) => (k === i ? { ...r, ...to } : r)) });
  const swap = (i: number, j: number): void =>
    change({ rules: choice.rules.map((r, k) => (k === i ? choice.rules[j]! : k === j ? choice.rules[i]! : r)) });
  const like = (name: string): void =>
    change({
      favourites: choice.favourites.includes(name)
        ? choice.favourites.filter((n) => n !== name)
        : [...choice.favourites, name],
    });
  const kept = chosen.filter((c) => c.kept).length;
  const now = new Set(character.shapes.map((s) => s.name));
  const changes = chosen.filter((c) => c.kept !== now.has(c.shape.name)).length;
  const differs = changes > 0 || JSON.stringify(usable) !== JSON.stringify(saved);
  const shown = chosen.filter((c) =>
    `${c.shape.name} ${c.shape.label} ${c.region}`.toLowerCase().includes(find.toLowerCase()),
  );
  return (
    <>
      <div className="p-10-18-8 stack gap-6 items-start">
        {choice.rules.map((rule, i) => (
          <div
            key={i}
            className="line gap-6 t-small one-row wide"

            role="group"
            aria-label={`Rule ${i + 1}`}>
            <span className="mono muted wide-16">{i + 1}</span>
            <Select
              variant="standard"
              disableUnderline
              value={rule.keep ? "keep" : "leave out"}
              onChange={(e) => changeRule(i, { keep: e.target.value === "keep" })}
              sx={{ fontSize: 12.5, width: 84 }}
              inputProps={{ "aria-label": `Rule ${i + 1}: keep or leave out` }}>
              <MenuItem value="keep">keep</MenuItem>
              <MenuItem value="leave out">leave out</MenuItem>
            </Select>
            <Select
              variant="standard"
              disableUnderline
              value={rule.by}
              onChange={(e) =>
                changeRule(i, {
                  by: e.target.value as ChoiceRule["by"],
                  text: e.target.value === "region" ? SHAPE_REGIONS[0] : "",
                })
              }
              sx={{ fontSize: 12.5, width: 116 }}
              inputProps={{ "aria-label": `Rule ${i + 1}: by` }}>
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
                onChange={(e) => changeRule(i, { text: e.target.value })}
                sx={{ fontSize: 12.5, flex: 1 }}
                inputProps={{ "aria-label": `Rule ${i + 1}: region` }}>
                {SHAPE_REGIONS.map((r) => (
                  <MenuItem key={r} value={r}>
                    {r}
                  </MenuItem>
                ))}
              </Select>
            ) : (
              <TextField
                value={rule.text}
                onChange={(e) => changeRule(i, { text: e.target.value })}
                placeholder={rule.by === "wildcard" ? "AU1*" : "left"}
                sx={{ flex: 1, minWidth: 80 }}
                slotProps={{ htmlInput: { "aria-label": `Rule ${i + 1}: text`, className: "mono", maxLength: 200 } }}
              />
            )}
            <span className="mono muted nowrap wide-82 to-right">
              decides {chosen.filter((c) => c.because === i + 1).length}
            </span>
            <IconButton size="small" aria-label={`Rule ${i + 1} up`} disabled={i === 0} onClick={() => swap(i, i - 1)}>
              ↑
            </IconButton>
            <IconButton
              size="small"
              aria-label={`Rule ${i + 1} down`}
              disabled={i === choice.rules.length - 1}
              onClick={() => swap(i, i + 1)}>
              ↓
            </IconButton>
            <IconButton
              size="small"
              aria-label={`Take rule ${i + 1} out`}
              onClick={() => change({ rules: choice.rules.filter((_, k) => k !== i) })}>
              ×
            </IconButton>
          </div>
        ))}
        <div className="line wide">
          <Button onClick={() => change({ rules: [...choice.rules, { keep: false, by: "word", text: "" }] })}>
            Add a rule
          </Button>
          <span className="muted grow t-small">
            {choice.rules.length
              ? "Later rules go over earlier ones; driven shapes and favourites stay."
              : "Without rules all shapes are kept."}
          </span>
        </div>
        <div className="line wide one-row">
          <FindField label="Find a shape" value={find} onChange={setFind} />
          <b className="nowrap t-small" role="status">
            {kept} of {chosen.length} kept
          </b>
          <Button
            variant="contained"
            disabled={!differs}
            onClick={() =>
              void addStep({
                op: "choose shapes",
                choice: {
                  rules: usable.rules.map((r) => ({ ...r, text: r.text.trim() })),
                  favourites: [...usable.favourites],
                },
              }).then((done) => done && setDraft(null))
            }>
            {changes ? `Change ${changes}` : "Keep the rules"}
          </Button>
        </div>
      </div>
      <div className="sheet-body">
        {chosen.length === 0 && <p className="muted p-8-18">The delivery has no shapes.</p>}
        {SHAPE_REGIONS.map((region) => {
          const own = shown.filter((c) => c.region === region);
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
                  <div className="row-line py-2 min-h-28 cursor-default">
                    <button
                      type="button"
                      className="plain"
                      aria-pressed={choice.favourites.includes(c.shape.name)}
                      aria-label={`${c.shape.name} is a favourite`}
                      onClick={() => like(c.shape.name)}
                      style={{
                        width: 18,
                        flex: "none",
                        color: choice.favourites.includes(c.shape.name) ? "var(--accent)" : "var(--muted)",
                      }}>
                      {choice.favourites.includes(c.shape.name) ? "★" : "☆"}
                    </button>
                    <button
                      type="button"
                      className="plain mono"
                      disabled={!now.has(c.shape.name)}
                      onClick={() => setWeight(store, c.shape.name, weights[c.shape.name] ? 0 : 1)}
                      title="Shows it on the stage"
                      style={{
                        width: 170,
                        flex: "none",
                        overflow: "hidden",
                        textOverflow: "ellipsis",
                        whiteSpace: "nowrap",
                        opacity: c.kept ? 1 : 0.55,
                      }}>
                      {c.shape.name}
                    </button>
                    <span className="muted grow t-12">{c.shape.label === c.shape.name ? "" : c.shape.label}</span>
                    <span className="nowrap" style={{ fontSize: 12, color: c.kept ? "var(--muted)" : "var(--amber)" }}>
                      {c.kept ? "kept" : "left out"}
                      {reason(c)}
                    </span>
                  </div>
                </div>
              ))}
            </section>
          );
        })}
      </div>
    </>
  );
}

const reason = ({ because }: Chosen): string =>
  because === "no rule" ? "" : typeof because === "number" ? ` by ${because}` : `, ${because}`;
