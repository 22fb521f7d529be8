import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useMemo, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { isUserError } from "~core/model/userError";
import { namesOf, RENAMED_KINDS, type RenamedKind } from "~core/edits/names/renameThings";
import {
  NO_RENAMING,
  RENAME_MANNERS,
  renamings,
  SEPARATORS,
  type RenameRule,
  type Renaming,
} from "~core/edits/names/renameRule";
import { useRuleDraft } from "../../session/kept/useRuleDraft";
import { useSession } from "../../session/session";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { Segmented } from "../../ui/Segmented";
import { useQueryState } from "../../ui/useQueryState";
import { Refused } from "../../ui/Refused";

/** Renaming by rule, every new name seen before it is given; what would collide is refused. */
export function Names(): ReactNode {
  const character = useSession((s) => s.loaded?.character);
  const { addStep } = useDesk();
  const { name: owner, id } = useCharacterPage().character;
  const [kind, setKind] = useQueryState<RenamedKind>("kind", "joints", RENAMED_KINDS);
  const [draft, setRule] = useRuleDraft<RenameRule>({
    character: id,
    of: "names",
    title: "a rule for names",
    place: { station: "intake", query: { leaf: "names", kind } },
    isEmpty: (r) => !r.find && !r.front && r.separator === NO_RENAMING.separator,
    amount: (r) =>
      r.find ? `"${r.find}" by "${r.replace}"` : r.front ? `"${r.front}" in front` : `words apart by ${r.separator}`,
  });
  const rule = draft ?? NO_RENAMING;
  const names = useMemo(() => (character ? namesOf(character, kind) : []), [character, kind]);
  const planned = useMemo((): { list: readonly Renaming[]; wrong: string } => {
    try {
      return { list: renamings(names, rule), wrong: "" };
    } catch (error) {
      return { list: [], wrong: isUserError(error) ? error.message : "The rule cannot be read." };
    }
  }, [names, rule]);
  if (!character) return <p className="muted p-0-18">Fetching the character</p>;
  const refused = planned.list.filter((r) => r.refused).length;
  const change = (to: Partial<RenameRule>): void => setRule({ ...rule, ...to });
  const rename = async (): Promise<void> => {
    if (await addStep({ op: "rename", kind, names: planned.list.map(({ from, to }) => ({ from, to })) })) setRule(null);
  };
  return (
    <>
      <div className="p-10-18 stack gap-10 items-start">
        <Segmented label="What is renamed" options={RENAMED_KINDS} value={kind} onChange={setKind} />
        <RuleFields rule={rule} owner={owner} change={change} />
        <div className="line">
          <Button variant="contained" disabled={planned.list.length === 0 || refused > 0} onClick={() => void rename()}>
            {planned.list.length ? `Rename ${counted(planned.list.length, kind)}` : "Rename"}
          </Button>
          <span className="muted t-small">{hint(rule, planned.list.length, names.length, refused, kind)}</span>
        </div>
        <Refused why={planned.wrong} />
      </div>
      <div className="sheet-body">
        <NewNames
          kind={kind}
          list={planned.list.length ? planned.list : names.map((from): Renaming => ({ from, to: "", refused: "" }))}
        />
      </div>
    </>
  );
}

interface RuleFieldsProps {
  readonly rule: RenameRule;
  readonly owner: string;
  readonly change: (to: Partial<RenameRule>) => void;
}
/** What the rule finds and puts in its place. */
function RuleFields({ rule, owner, change }: RuleFieldsProps): ReactNode {
  return (
    <>
      <div className="line gap-8">
        <TextField
          value={rule.find}
          onChange={(e) => change({ find: e.target.value })}
          placeholder="Find"
          sx={{ width: 168 }}
          slotProps={{ htmlInput: { "aria-label": "Find in names", className: "mono", maxLength: 120 } }}
        />
        <TextField
          value={rule.replace}
          onChange={(e) => change({ replace: e.target.value })}
          placeholder="Replace by"
          sx={{ width: 168 }}
          slotProps={{ htmlInput: { "aria-label": "Replace by", className: "mono", maxLength: 120 } }}
        />
        <Segmented
          label="How it is found"
          options={RENAME_MANNERS}
          value={rule.manner}
          onChange={(manner) => change({ manner })}
        />
      </div>
      <div className="line gap-8 t-small">
        <span>words apart by</span>
        <SmallSelect
          label="Words apart by"
          value={rule.separator}
          onChange={(value) => change({ separator: value })}
          options={SEPARATORS}
          words={(s) => (s === "none" ? "capitals" : s)}
        />
        <span>in front</span>
        <TextField
          value={rule.front}
          onChange={(e) => change({ front: e.target.value })}
          sx={{ width: 120 }}
          slotProps={{ htmlInput: { "aria-label": "Put in front", className: "mono", maxLength: 60 } }}
        />
        <Button
          onClick={() =>
            change({
              front: `${owner
                .toLowerCase()
                .replace(/[^a-z0-9]+/g, "_")
                .replace(/^_|_$/g, "")}_`,
            })
          }>
          the character's name
        </Button>
      </div>
    </>
  );
}

interface NewNamesProps {
  readonly kind: RenamedKind;
  readonly list: readonly Renaming[];
}
/** Every name as it is and as it would be; clips can be removed here. */
function NewNames({ kind, list }: NewNamesProps): ReactNode {
  const { addStep } = useDesk();
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>Now</th>
          <th>Then</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        {list.map((r) => (
          <tr key={r.from}>
            <td className="mono">{r.from}</td>
            <td className="mono" style={r.refused ? { color: "var(--brick)" } : undefined}>
              {r.to}
            </td>
            <td className="ink-brick">
              {r.refused && `▲ ${r.refused}`}
              {kind === "clips" && !r.to && (
                <Button
                  aria-label={`Remove clip ${r.from}`}
                  onClick={() => void addStep({ op: "remove clips", names: [r.from] })}>
                  Remove
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function hint(rule: RenameRule, changed: number, all: number, refused: number, kind: string): string {
  if (refused > 0) return `${refused} of ${changed} cannot be: see below.`;
  if (changed > 0) return `${changed} of ${all} change.`;
  if (rule === NO_RENAMING || (!rule.find && !rule.front && rule.separator === "as it is"))
    return rule.manner === "wildcard"
      ? "* any run, ? any one; $1, $2 for what they stood for."
      : `${counted(all, kind)}. Nothing is changed before you say so.`;
  return "The rule changes no name.";
}
