import { useEffect, useRef } from "react";
import { useRevalidator } from "react-router";
import { clipSeconds } from "~core/clips/motion";
import type { Character } from "~core/model/character";
import { sourcesAt } from "~core/trials/momentAt";
import { clipPiece, emptyTrial, laneOfClip, trialSeconds, type Trial } from "~core/trials/trial";
import type { Arrangement } from "~server/services/arrangements";
import { playerOf } from "../../../session/playback";
import { putJson } from "../../../session/refusal";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { forgetTrialHistory, openTrial, setKept, setOwn } from "../../../session/slices/trial";
import { setView } from "../../../session/slices/view";
import { useCharacterPage } from "../../../session/useDesk";
import { useQueryState } from "../../../ui/useQueryState";
import { hearLines } from "../../../session/lineSounds";
import { useSpokenLines } from "../lines/useSpokenLines";

/** Name of the trial that is made of all clips, one after the other; it is not kept until it is changed. */
export const ALL_CLIPS = "all";
/** Between clips that play one after the other, seconds. */
const GAP = 1 / 30;

function allClips(character: Character): Trial {
  const trial = emptyTrial("All clips");
  let start = 0;
  for (const clip of character.clips) {
    const seconds = clipSeconds(clip);
    trial.lanes[laneOfClip(clip)].push(clipPiece(clip.name, seconds, start, `clip ${clip.name}`));
    start += seconds + GAP;
  }
  return trial;
}

const clipsOf = ({ character }: Loaded): string =>
  character.clips.map((c) => `${c.name} ${clipSeconds(c).toFixed(3)}`).join("|");

/** Puts the trial of the address on the ruler, plays it, and keeps it when it is changed. */
export function useTrialOnRuler(): void {
  const store = useSessionStore();
  const { arrangements, character: row } = useCharacterPage();
  const { revalidate } = useRevalidator();
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const tried = useSession((s) => s.tried);
  const trialId = useSession((s) => s.trialId);
  const [wanted, setWanted] = useQueryState<string>("trial", ALL_CLIPS);
  const clips = loaded ? clipsOf(loaded) : "";
  const opened = useRef<{ readonly wanted: string; readonly clips: string } | null>(null);
  useEffect(() => {
    if (!loaded) return;
    const before = opened.current;
    // all clips are laid out anew when clips come, go or change their length
    if (before?.wanted === wanted && (wanted !== ALL_CLIPS || before.clips === clips)) return;
    const kept = arrangements.find((a) => a.id === wanted);
    if (wanted !== ALL_CLIPS && !kept) return setWanted(ALL_CLIPS);
    opened.current = { wanted, clips };
    if (!kept) openTrial(store, ALL_CLIPS, allClips(loaded.character), 0);
    else if (store.getState().trialId !== kept.id) openTrial(store, kept.id, kept.trial, kept.revision);
  }, [store, loaded, clips, arrangements, wanted, setWanted]);
  const own = (id: string): void => {
    opened.current = { wanted: id, clips };
    setWanted(id);
  };
  // a trial of one's own is listed once the address has gone there: going there lets a list that is on its way drop
  const asked = useRef("");
  useEffect(() => {
    if (wanted === ALL_CLIPS || wanted !== trialId || asked.current === wanted) return;
    asked.current = wanted;
    if (!arrangements.some((a) => a.id === wanted)) void revalidate();
  }, [wanted, trialId, arrangements, revalidate]);
  const state = loaded?.state;
  useEffect(() => forgetTrialHistory(store), [store, state]);
  usePlay(loaded, trial, tried);
  useKeep(row.id, trial, trialId, arrangements, own, revalidate);
}

/** What the stage plays: the trial, with the clip that is being fitted in place of its own. */
function usePlay(loaded: Loaded | null, trial: Trial | null, tried: Character["clips"][number] | null): void {
  const store = useSessionStore();
  const player = playerOf(store);
  const beside = useSession((s) => s.beside?.loaded.character ?? null);
  const spoken = useSpokenLines(trial);
  useEffect(() => hearLines(store), [store]);
  const [begin] = useQueryState<string>("t", "0");
  const first = useRef(Number(begin) || 0);
  const opened = useRef(false);
  useEffect(() => {
    if (!opened.current) setView(store, { pose: {}, weights: {} });
    opened.current = true;
  }, [store]);
  useEffect(() => {
    if (!loaded || !trial) return;
    const { character } = loaded;
    const shown = tried
      ? { ...character, clips: character.clips.map((c) => (c.name === tried.name ? tried : c)) }
      : character;
    player.load(
      {
        of: "trial",
        length: trialSeconds(trial),
        fps: trial.fps,
        at: (t) => ({
          sources: sourcesAt(shown, trial, t),
          besideSources: beside ? sourcesAt(beside, trial, t) : [],
          method: trial.method,
        }),
      },
      first.current > 0 ? first.current : undefined,
    );
    first.current = 0;
    if (!store.getState().playback.playing) player.seek(store.getState().playback.seconds);
  }, [player, store, loaded, trial, tried, beside, spoken]);
  useEffect(() => () => player.unload("trial"), [player]);
}

/** A pause after a change before it is sent, ms. */
const SOON = 700;

/** Sends a changed trial to the server; the first change of all clips makes a trial of its own. */
function useKeep(
  character: string,
  trial: Trial | null,
  trialId: string | null,
  arrangements: readonly Arrangement[],
  onOwn: (id: string) => void,
  revalidate: () => Promise<void>,
): void {
  const store = useSessionStore();
  const undone = useSession((s) => s.trialHistory.undo.length);
  const goTo = useRef(onOwn);
  useEffect(() => {
    goTo.current = onOwn;
  }, [onOwn]);
  const kept = useSession((s) => s.trialKept);
  const changed = trial !== null && trial !== kept && (trialId !== ALL_CLIPS || undone > 0);
  useEffect(() => {
    if (!changed || !trial || !trialId) return undefined;
    const timer = window.setTimeout(() => {
      const fresh = trialId === ALL_CLIPS;
      const id = fresh ? crypto.randomUUID() : trialId;
      const body = fresh ? { ...trial, name: freshName(arrangements) } : trial;
      const revision = fresh ? 0 : store.getState().trialRevision;
      const url = `/api/characters/${encodeURIComponent(character)}/arrangements/${id}`;
      putJson(url, { trial: body, revision })
        .then((answer) => {
          const { revision: now } = answer as { revision: number };
          if (fresh) {
            goTo.current(id);
            setOwn(store, id, body.name, now);
          } else setKept(store, trial, now);
          return revalidate();
        })
        // a server that does not answer: the next change tries again, and what is on the ruler stays
        .catch(() => {});
    }, SOON);
    return () => window.clearTimeout(timer);
  }, [changed, trial, trialId, character, arrangements, revalidate, store]);
}

const freshName = (arrangements: readonly Arrangement[]): string => {
  const taken = new Set(arrangements.map((a) => a.trial.name));
  let n = 1;
  while (taken.has(`Trial ${n}`)) n++;
  return `Trial ${n}`;
};
