import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useState, type ReactNode } from "react";
import { SmallSwitch } from "../../ui/SmallSwitch";
import { TWIST_LOSS, type TwistRow } from "~core/correctives/compareTwists";
import type { Character } from "~core/model/character";
import { startJob } from "../../session/jobs/pageJobs";
import { useWork } from "../../session/jobs/useWork";
import { withMotion } from "../../session/posing";
import { useSession, useSessionStore, type Loaded } from "../../session/session";
import { showMoment } from "../../session/slices/view";
import { twistStep } from "../../session/twistStep";
import { useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { Refused } from "../../ui/Refused";

const percent = (left: number): string => `${Math.round(100 * left)} %`;

/** Limbs that a twist wrings: how much of a cross-section is left, and joints along them that share the twist. */
export function TwistJoints(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const [open, setOpen] = useState(false);
  if (!loaded?.character.skeleton || !loaded.motions.some((m) => m.name === "twist")) return null;
  const there = loaded.character.twistJoints?.length ?? 0;
  return (
    <section className={`row${open ? " open" : ""}`} aria-label="Twist along limbs">
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className="grow">Twist along limbs</span>
        <span className="muted">{there ? `${counted(there, "joints")} share it` : "no joints share it"}</span>
      </button>
      {open && <TwistReadings loaded={loaded} />}
    </section>
  );
}

/** By character the limbs that were read last: they stay while the row is shut. */
const known = new WeakMap<Character, readonly TwistRow[]>();

function TwistReadings({ loaded }: { readonly loaded: Loaded }): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const method = useSession((s) => s.method);
  const work = useWork("The limbs could not be read.");
  const [rows, setRows] = useKnownRows(loaded.character);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [told, setTold] = useState("");
  const limbs = (rows ?? []).filter((r) => r.joints && !left.has(r.motion));
  const compare = async (): Promise<void> => {
    const { loaded: now } = store.getState();
    if (!now) return;
    const made = await work.during("Twisting every limb", (progress, signal) =>
      startJob(now, "compare twists", { profile: "realtime", method }, { progress, signal }),
    );
    if (made) setRows(now.character, made);
  };
  const spread = async (replaced: Parameters<typeof twistStep>[2]): Promise<void> => {
    setTold("");
    const along = limbs.map((r) => r.limb);
    const made = await work.during("Asking correctives again", (progress, signal) =>
      twistStep(loaded, along, replaced, method, { progress, signal }),
    );
    if (made && (await addStep(made.step, made.blobs))) setTold(made.told ?? "");
  };
  return (
    <div className="row-body stack gap-8">
      <div className="line t-small">
        <span className="grow muted">
          Skin that is half one joint&apos;s and half another&apos;s shrinks where the two are twisted apart.
        </span>
        <Button variant={rows ? "text" : "contained"} disabled={work.running !== null} onClick={() => void compare()}>
          {rows ? "Read again" : "Read all limbs"}
        </Button>
      </div>
      {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      <Refused why={work.refusal} />
      {told && (
        <p className="muted t-small m-0" role="status">
          {told}
        </p>
      )}
      {rows && <LimbTable rows={rows} left={left} onLeft={setLeft} />}
      {limbs.length > 0 && <SpreadTwist limbs={limbs} busy={work.running !== null} onSpread={(o) => void spread(o)} />}
      {rows && rows.every((r) => !r.joints) && (
        <p className="muted t-small m-0">
          {rows.some((r) => r.now.left < 1 - TWIST_LOSS)
            ? "The twist of these limbs is spread already."
            : `Every limb keeps ${percent(1 - TWIST_LOSS)} of its cross-section.`}
        </p>
      )}
    </div>
  );
}

/** What was read of a character, and how it is kept. */
function useKnownRows(
  character: Character,
): [rows: readonly TwistRow[] | null, keep: (of: Character, rows: readonly TwistRow[]) => void] {
  const [, setRead] = useState(0);
  return [
    known.get(character) ?? null,
    (of, rows) => {
      known.set(of, rows);
      setRead((n) => n + 1);
    },
  ];
}

interface LimbTableProps {
  readonly rows: readonly TwistRow[];
  /** Motions whose limbs are left as they are. */
  readonly left: ReadonlySet<string>;
  readonly onLeft: (left: ReadonlySet<string>) => void;
}

function LimbTable({ rows, left, onLeft }: LimbTableProps): ReactNode {
  return (
    <table className="plain t-small">
      <thead>
        <tr>
          <th />
          <th>Limb, thinnest place</th>
          <th className="to-right">Left now</th>
          <th className="to-right">With joints</th>
          <th className="to-right">With correctives</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <LimbRow
            key={r.motion}
            row={r}
            isLeft={left.has(r.motion)}
            onLeft={(isLeft) => onLeft(new Set(isLeft ? [...left, r.motion] : [...left].filter((m) => m !== r.motion)))}
          />
        ))}
      </tbody>
    </table>
  );
}

interface LimbRowProps {
  readonly row: TwistRow;
  readonly isLeft: boolean;
  readonly onLeft: (isLeft: boolean) => void;
}
function LimbRow({ row: r, isLeft, onLeft }: LimbRowProps): ReactNode {
  const store = useSessionStore();
  const motion = useSession((s) => s.loaded?.motions.find((m) => m.id === r.motion));
  const show = (): void => {
    if (motion)
      showMoment(store, {
        pose: withMotion({}, motion, r.now.degrees),
        joint: motion.joint,
        framing: `joint ${motion.joint}`,
        dressed: false,
      });
  };
  return (
    <tr>
      <td>
        {r.joints && (
          <Checkbox
            size="small"
            sx={{ p: 0 }}
            checked={!isLeft}
            onChange={(_, on) => onLeft(!on)}
            slotProps={{ input: { "aria-label": `Spread ${r.label}` } }}
          />
        )}
      </td>
      <td>
        <button type="button" className="plain" title="Poses the limb there" onClick={show}>
          {r.label} {r.now.degrees > 0 ? "+" : ""}
          {r.now.degrees}°
        </button>
        <div className="muted">{percent(r.now.at)} along</div>
      </td>
      <td className="to-right">
        <LimitBar value={1 - r.now.left} limit={TWIST_LOSS} text={percent(r.now.left)} width={40} />
      </td>
      <td className="mono to-right nowrap">
        {r.joints ? `${percent(r.joints.left)}, ${counted(r.joints.count, "joints")}` : "–"}
      </td>
      <td className="mono to-right nowrap">
        {r.correctives ? `${percent(r.correctives.left)}, ${counted(r.correctives.count, "shapes")}` : "–"}
      </td>
    </tr>
  );
}

interface SpreadTwistProps {
  readonly limbs: readonly TwistRow[];
  readonly busy: boolean;
  /** @param replaced correctives in whose place the joints come. */
  readonly onSpread: (replaced: TwistRow["own"]) => void;
}
function SpreadTwist({ limbs, busy, onSpread }: SpreadTwistProps): ReactNode {
  const [inPlace, setInPlace] = useState(true);
  const own = limbs.flatMap((r) => r.own);
  const joints = limbs.reduce((n, r) => n + r.joints!.count, 0);
  return (
    <div className="line">
      <Button variant="contained" disabled={busy} onClick={() => onSpread(inPlace ? own : [])}>
        Add {counted(joints, "joints")} along {counted(limbs.length, "limbs")}
      </Button>
      {own.length > 0 && (
        <SmallSwitch
          label={`in place of the ${counted(own.length, "correctives")} of these twists`}
          checked={inPlace}
          onChange={setInPlace}
          title="Off: they stay, and give way so that their sculpts are met as before"
        />
      )}
    </div>
  );
}
