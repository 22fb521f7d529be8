import { useState } from "react";
import type { BroughtTarget } from "~core/wrap/targets/bringTargets";
import { useWork, type Work } from "../../../session/jobs/useWork";
import { useSession } from "../../../session/session";
import { bringFiles } from "../../../session/targetFiles";
import { counted } from "../../../ui/counted";

/** How target files are read. */
export interface HowToRead {
  /** Rounds of smoothing, and those of single files by name. */
  readonly rounds: number;
  readonly own: ReadonlyMap<string, number>;
  readonly strength: number;
  /** Whether the skin is laid on scans and sculpts of another mesh. */
  readonly scans: boolean;
}

export interface Targets {
  readonly files: readonly File[];
  /** What became of each file; null before any is read. */
  readonly brought: readonly BroughtTarget[] | null;
  readonly how: HowToRead;
  readonly setHow: (how: HowToRead) => void;
  readonly work: Work;
  readonly told: string;
  /** Reads a new batch, as it was made. */
  readonly begin: (files: readonly File[]) => void;
  /** Reads all files again, in another way. */
  readonly readAgain: (how: HowToRead) => void;
  /** Reads one file with its own smoothing; what the others became stays. */
  readonly readOne: (name: string, rounds: number) => Promise<void>;
  readonly clear: (told: string) => void;
}

/** Target files, how they are read, and what became of them. */
export function useTargets(): Targets {
  const loaded = useSession((s) => s.loaded);
  const [files, setFiles] = useState<readonly File[]>([]);
  const [how, setHow] = useState<HowToRead>({ rounds: 0, own: new Map(), strength: 1, scans: false });
  const [brought, setBrought] = useState<readonly BroughtTarget[] | null>(null);
  const [told, setTold] = useState("");
  const work = useWork("The files could not be read.");
  const options = (rounds: number, { strength, scans }: HowToRead) => ({
    smoothRounds: rounds,
    smoothStrength: strength,
    layOnScans: scans,
  });
  const read = async (chosen: readonly File[], way: HowToRead): Promise<void> => {
    setHow(way);
    if (!loaded || chosen.length === 0) return;
    setFiles(chosen);
    setTold("");
    const made = await work.during(`Fitting ${counted(chosen.length, "files")}`, (progress, signal) =>
      bringFiles(loaded, chosen, options(way.rounds, way), { progress, signal }),
    );
    if (made) setBrought(made);
  };
  const readOne = async (name: string, rounds: number): Promise<void> => {
    const file = files.find((f) => f.name === name);
    if (!loaded || !file) return;
    setHow({ ...how, own: new Map(how.own).set(name, rounds) });
    const base = files.filter((f) => f !== file && /(^|[^a-z])(base|neutral|rest|bind)([^a-z]|$)/i.test(f.name));
    const made = await work.during(`Fitting ${name}`, (progress, signal) =>
      bringFiles(loaded, [file, ...base], options(rounds, how), { progress, signal }),
    );
    const now = made?.filter((b) => b.file === name);
    if (now)
      setBrought((old) => old?.flatMap((b) => (b.file === name ? now.filter((x) => x.name === b.name) : [b])) ?? null);
  };
  return {
    files,
    brought,
    how,
    setHow,
    work,
    told,
    begin: (chosen) => void read(chosen, { ...how, rounds: 0, own: new Map() }),
    readAgain: (way) => void read(files, way),
    readOne,
    clear: (words) => {
      setTold(words);
      setBrought(null);
      setFiles([]);
    },
  };
}
