import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { useDropzone } from "react-dropzone";
import { isUserError } from "~core/model/userError";
import { trialSeconds } from "~core/trials/trial";
import { useWork } from "../../../session/jobs/useWork";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { lookAt } from "../../../session/slices/view";
import { Progress } from "../../../ui/Progress";
import { BridgeAddress } from "./BridgeAddress";
import { laidTake, putRecorded, putTake } from "./putTake";
import { openTake } from "./openTake";
import { useTracker } from "./useTracker";

const SAYS = {
  off: "not connected",
  connecting: "connecting",
  live: "live",
  waiting: "waits for frames",
  ended: "the take is over",
  retrying: "gone, asked again every second",
} as const;
const LONGEST_FILE = 64 * 1024 * 1024;

/** The tracker: connect, what comes, record; and takes that are brought as files. */
export function TrackerPanel(): ReactNode {
  const { face, bridge, connect } = useTracker();
  const tracker = useSession((s) => s.tracker);
  const [naming, setNaming] = useState(false);
  const { work, notes, refused, bring, put } = useTakes();
  const on = tracker.status !== "off";
  const drop = useDropzone({ onDrop: (files) => void bring(files), noClick: true, noKeyboard: true });
  return (
    <div className="p-8-18" {...drop.getRootProps()} role="group" aria-label="Tracker">
      <input {...drop.getInputProps({ "aria-label": "Files: Bring takes" })} />
      <div className="line">
        <ConnectButton face={face} bridge={bridge} connect={connect} />
        <span className="nowrap over-hidden ellipsis" title={bridge?.address ?? ""}>
          {on ? `${tracker.source || bridge?.address}: ${SAYS[tracker.status]}` : addressWords(bridge)}
        </span>
        <span className="take-rest" />
        {on && tracker.takes.length > 1 && <TakeChoice face={face} />}
        {on && <RecordButton face={face} onTake={(take, start) => void put(take, start)} />}
        {!on && <Button onClick={() => drop.open()}>Bring takes</Button>}
        {!on && <Button onClick={() => setNaming(!naming)}>Another tracker</Button>}
      </div>
      {on && <Counts />}
      {tracker.said && (
        <div className="t-small mt-4" role="status">
          {tracker.said}
        </div>
      )}
      {naming && !on && bridge && <BridgeAddress bridge={bridge} />}
      {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      {work.refusal && <p className="refusal">{work.refusal}</p>}
      {refused.map((r) => (
        <p key={r} className="refusal">
          {r}
        </p>
      ))}
      {notes.map((n) => (
        <div key={n} className="t-small muted">
          {n}
        </div>
      ))}
    </div>
  );
}

type Tracker = ReturnType<typeof useTracker>;

/** Takes brought as files or recorded, laid on the character; what was said of them. */
function useTakes() {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const [notes, setNotes] = useState<readonly string[]>([]);
  const [refused, setRefused] = useState<readonly string[]>([]);
  const work = useWork("The take could not be laid on the character.");
  const put = async (take: ReturnType<Tracker["face"]["stop"]>, start: number): Promise<void> => {
    if (!loaded || !take) return work.refuse("Nothing came while it was recorded.");
    const made = await work.during("Laying the take down", (tell, signal) =>
      putRecorded(store, loaded, take, start, tell, signal),
    );
    if (made) openTake(store, made);
  };
  const bring = async (files: readonly File[]): Promise<void> => {
    if (!loaded) return;
    setNotes([]);
    setRefused([]);
    const told: string[] = [];
    const why: string[] = [];
    const made = await work.during("Reading the take", async (tell, signal) => {
      let last = null;
      for (const [i, file] of files.entries()) {
        if (file.size > LONGEST_FILE) {
          why.push(`${file.name} has ${Math.round(file.size / 2 ** 20)} MB; takes up to 64 MB are read.`);
          continue;
        }
        const bytes = new Uint8Array(await file.arrayBuffer());
        const share = (s: number): void => tell((i + s) / files.length);
        try {
          const laid = await laidTake(loaded, { name: file.name, bytes }, null, share, signal);
          told.push(...laid.notes.map((n) => `${file.name}: ${n}`));
          const trial = store.getState().trial;
          const start = trial?.lanes.tracking.length ? trialSeconds(trial) : 0;
          last = await putTake(store, laid, start);
        } catch (error) {
          if (!isUserError(error)) throw error;
          why.push(`${file.name}: ${error.what} ${error.todo}`);
        }
      }
      return last;
    });
    setNotes(told);
    setRefused(why);
    if (made) openTake(store, made);
  };
  return { work, notes, refused, bring, put };
}

function ConnectButton({ face, bridge, connect }: Pick<Tracker, "face" | "bridge" | "connect">): ReactNode {
  const store = useSessionStore();
  const on = useSession((s) => s.tracker.status !== "off");
  const recording = useSession((s) => s.recording !== null);
  const hasLoaded = useSession((s) => s.loaded !== null);
  if (on)
    return (
      <Button variant="outlined" disabled={recording} onClick={() => face.disconnect()}>
        Disconnect
      </Button>
    );
  return (
    <Button
      variant="contained"
      disabled={!bridge?.address || !hasLoaded}
      onClick={() => {
        lookAt(store, { framing: "face" });
        connect();
      }}>
      Connect
    </Button>
  );
}

function TakeChoice({ face }: Pick<Tracker, "face">): ReactNode {
  const { take, takes } = useSession((s) => s.tracker);
  const recording = useSession((s) => s.recording !== null);
  return (
    <SmallSelect
      label="Take that the tracker plays"
      value={take}
      disabled={recording}
      onChange={(value) => face.send({ type: "play", take: value })}
      size={13}
      options={takes}
    />
  );
}

interface RecordButtonProps extends Pick<Tracker, "face"> {
  /** @param start seconds on the ruler where it began. */
  readonly onTake: (take: ReturnType<Tracker["face"]["stop"]>, start: number) => void;
}
function RecordButton({ face, onTake }: RecordButtonProps): ReactNode {
  const store = useSessionStore();
  const recording = useSession((s) => s.recording);
  const status = useSession((s) => s.tracker.status);
  const begin = (): void => {
    const player = playerOf(store);
    const start = store.getState().playback.seconds;
    player.setSpeed(1);
    face.record(start);
    player.play();
  };
  const finish = (): void => {
    const start = recording?.start ?? 0;
    playerOf(store).pause();
    onTake(face.stop(), start);
  };
  if (recording)
    return (
      <Button variant="contained" color="error" onClick={finish}>
        Stop at {recording.seconds.toFixed(1)} s
      </Button>
    );
  return (
    <Button
      variant="contained"
      disabled={status !== "live" && status !== "ended"}
      title="Records the face into the tracking lane from the needle on, while the other lanes play"
      onClick={begin}>
      Record
    </Button>
  );
}

const addressWords = (bridge: { address: string | null; named: string | null } | null): string => {
  if (!bridge) return "";
  if (!bridge.address) return "No tracker runs here: name the address of one.";
  return bridge.named ? `Tracker at ${bridge.named}` : "The stand-in plays takes of a made-up host";
};

/** What comes, in numbers. */
function Counts(): ReactNode {
  const { rate, counts, lost, drawnMs } = useSession((s) => s.tracker);
  const lag = useSession((s) => s.faceReadings?.lagMs ?? null);
  return (
    <div className="t-small muted mt-4" role="group" aria-label="What comes">
      {rate === null ? "no frames" : `${rate.toFixed(0)} frames a second`}
      {" · "}
      <span title="What steadying adds, and from when a frame comes to when it is handed to the stage">
        {drawnMs === null
          ? "nothing drawn yet"
          : `late by ${lag === null ? "" : `${Math.round(lag)} + `}${drawnMs.toFixed(0)} ms`}
      </span>
      {" · "}
      <span style={lost ? { color: "var(--brick)" } : undefined}>
        {lost ? "face lost now" : `face lost in ${counts.lost}`}
      </span>
      {` · ${counts.late} out of order · ${counts.missing} missing`}
      {counts.refused ? ` · ${counts.refused} not understood` : ""}
    </div>
  );
}
