import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import { useSnackbar } from "notistack";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { encodeAdded } from "~core/intake/addThings";
import { uniqueName } from "~core/model/uniqueName";
import { RATES, trialSeconds, type Trial } from "~core/trials/trial";
import { askJob, startJob } from "../../../session/jobs/pageJobs";
import { useWork, type Work } from "../../../session/jobs/useWork";
import { hashOf } from "../../../session/ledgerClient";
import { ask, putJson } from "../../../session/refusal";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { toggleView } from "../../../session/slices/view";
import { changeTrial } from "../../../session/slices/trial";
import { useCharacterPage, useDesk } from "../../../session/useDesk";
import { useRevalidator } from "react-router";
import { undoToast } from "../../../ui/noticeToast";
import { Progress } from "../../../ui/Progress";
import { saveFile } from "../../../ui/saveFile";
import { Segmented } from "../../../ui/Segmented";
import { useQueryState } from "../../../ui/useQueryState";
import { ALL_CLIPS } from "./useTrialOnRuler";

const SPEEDS = ["¼", "½", "1", "2"] as const;
const SPEED: Readonly<Record<(typeof SPEEDS)[number], number>> = { "¼": 0.25, "½": 0.5, "1": 1, "2": 2 };

type Arrangement = ReturnType<typeof useCharacterPage>["arrangements"][number];

/** Which trial is on the ruler, and playing it. */
export function TrialBar(): ReactNode {
  const store = useSessionStore();
  const player = playerOf(store);
  const trial = useSession((s) => s.trial);
  const playing = useSession((s) => s.playback.playing);
  const speed = useSession((s) => s.playback.speed);
  const loop = useSession((s) => s.playback.loop);
  const drivers = useSession((s) => s.drivers);
  if (!trial) return null;
  return (
    <div className="p-8-18-4" role="group" aria-label="Trial">
      <div className="line">
        <Button
          variant="outlined"
          sx={{ width: 76, flex: "none" }}
          title="Space plays, comma and full stop step a frame"
          onClick={() => player.toggle()}>
          {playing ? "Pause" : "Play"}
        </Button>
        <Now />
        <span className="take-rest" />
        <FormControlLabel
          className="t-small nowrap"
          control={<Checkbox size="small" checked={drivers} onChange={() => toggleView(store, "drivers")} />}
          label="correctives"
        />
        <Segmented
          label="Speed"
          options={SPEEDS}
          value={SPEEDS.find((s) => SPEED[s] === speed) ?? "1"}
          onChange={(s) => player.setSpeed(SPEED[s])}
        />
        <SmallSelect
          label="Frames a second"
          value={trial.fps}
          onChange={(value) => changeTrial(store, (t): Trial => ({ ...t, fps: Number(value) as Trial["fps"] }))}
          size={13}>
          {RATES.map((r) => (
            <MenuItem key={r} value={r}>
              {r} fps
            </MenuItem>
          ))}
        </SmallSelect>
      </div>
      {loop && (
        <div className="line t-small">
          <span className="muted">
            over and over from {loop[0].toFixed(2)} s to {loop[1].toFixed(2)} s
          </span>
          <Button onClick={() => player.setLoop(null)}>Play all of it</Button>
        </div>
      )}
    </div>
  );
}

/** Time and frame, and the rate that playing reaches. */
function Now(): ReactNode {
  const { seconds, length, rate, playing } = useSession((s) => s.playback);
  const fps = useSession((s) => s.trial?.fps ?? 30);
  return (
    <span className="mono nowrap">
      {seconds.toFixed(2)} of {length.toFixed(2)} s · frame {Math.round(seconds * fps)}
      {playing && rate ? <span className="muted"> · drawn at {Math.round(rate)}</span> : ""}
    </span>
  );
}

/** The kept trials: chosen, named, let go. */
export function TrialChoice(): ReactNode {
  const store = useSessionStore();
  const { arrangements, character } = useCharacterPage();
  const trial = useSession((s) => s.trial);

  const [id, setId] = useQueryState<string>("trial", ALL_CLIPS);
  const [naming, setNaming] = useState(false);
  const kept = arrangements.find((a) => a.id === id);
  const own = arrangements.filter((a) => a.characterId === character.id);
  const others = arrangements.filter((a) => a.characterId !== character.id);
  const { drop } = useDrop(kept, setId);
  const { work, bake, save } = useTrialFiles(trial);
  if (work.running) return <Progress {...work.running} onCancel={work.cancel} />;
  if (naming && trial)
    return (
      <TrialName
        name={trial.name}
        onDone={(name) => {
          setNaming(false);
          if (name && name !== trial.name) changeTrial(store, (t) => ({ ...t, name }));
        }}
      />
    );
  return (
    <span className="line one-row">
      <SmallSelect label="Trial on the ruler" value={kept ? id : ALL_CLIPS} onChange={setId} size={13}>
        <MenuItem value={ALL_CLIPS}>All clips</MenuItem>
        {own.map((a) => (
          <MenuItem key={a.id} value={a.id}>
            {a.id === id ? (trial?.name ?? a.trial.name) : a.trial.name}
          </MenuItem>
        ))}
        {others.map((a) => (
          <MenuItem key={a.id} value={a.id}>
            {a.trial.name} <span className="muted">&nbsp;of {a.of}</span>
          </MenuItem>
        ))}
      </SmallSelect>
      {kept && <Button onClick={() => setNaming(true)}>Name it</Button>}
      {kept && (
        <Button title="All that plays, frame by frame, as one clip of this character" onClick={() => void bake()}>
          Make it a clip
        </Button>
      )}
      {trial && trialSeconds(trial) > 0 && (
        <Button
          aria-label="Save as GLB"
          title="Save as GLB: the character with all that plays as one clip, correctives written frame by frame"
          onClick={() => void save()}>
          GLB
        </Button>
      )}
      {work.refusal && <span className="refusal">{work.refusal}</span>}
      {kept && kept.characterId === character.id && <Button onClick={drop}>Let it go</Button>}
    </span>
  );
}

interface Dropping {
  readonly drop: () => void;
}
/** Lets a trial go; it can be taken back for a moment. */
function useDrop(kept: Arrangement | undefined, setId: (id: string) => void): Dropping {
  const { revalidate } = useRevalidator();
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const drop = (): void => {
    if (!kept) return;
    const url = `/api/characters/${encodeURIComponent(kept.characterId)}/arrangements/${kept.id}`;
    const back = async (): Promise<void> => {
      closeSnackbar();
      await putJson(url, { trial: kept.trial, revision: 0 });
      await revalidate();
      setId(kept.id);
    };
    void ask(url, { method: "DELETE" })
      .then(() => setId(ALL_CLIPS))
      .then(() => {
        const text = `${kept.trial.name} is let go.`;
        enqueueSnackbar(
          text,
          undoToast(text, () => void back().catch(() => revalidate())),
        );
      })
      .then(() => revalidate())
      .catch(() => revalidate());
  };
  return { drop };
}

interface TrialFiles {
  readonly work: Work;
  readonly bake: () => Promise<void>;
  readonly save: () => Promise<void>;
}
/** The trial as one clip of the character, or as a file. */
function useTrialFiles(trial: Trial | null): TrialFiles {
  const loaded = useSession((s) => s.loaded);
  const { addStep } = useDesk();
  const work = useWork("The trial could not be written.");
  const bake = async (): Promise<void> => {
    if (!loaded || !trial) return;
    const name = uniqueName(trial.name, new Set(loaded.character.clips.map((c) => c.name)), "clip");
    const clip = await askJob(loaded, "clip of trial", { trial, name });
    if (!clip) return;
    const blob = encodeAdded(clip);
    await addStep({ op: "add clips", source: "a trial", items: [{ name, blob: await hashOf(blob) }] }, [blob]);
  };
  const save = async (): Promise<void> => {
    if (!loaded || !trial) return;
    const bytes = await work.during("Writing the trial", (tell, signal) =>
      startJob(loaded, "glb of trial", { trial }, { progress: (share) => tell(share), signal }),
    );
    if (bytes) saveFile(`${loaded.character.name} ${trial.name}.glb`, new Blob([bytes as never]));
  };
  return { work, bake, save };
}

interface TrialNameProps {
  readonly name: string;
  readonly onDone: (name: string) => void;
}
function TrialName({ name, onDone }: TrialNameProps): ReactNode {
  return (
    <input
      className="scrub-input wide-178"
      aria-label="Name of the trial"
      autoFocus
      defaultValue={name}
      maxLength={200}
      onBlur={(e) => onDone(e.target.value.trim())}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") onDone(name);
      }}
    />
  );
}
