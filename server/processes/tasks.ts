import type { Db } from "../db/connect";
import { addStepTask } from "./tasks/addStep";
import { checkState } from "./tasks/check";
import { handOff } from "./tasks/handOff";
import { ledgerFile } from "./tasks/ledgerFile";
import { relink } from "./tasks/relink";
import { runJobTask } from "./tasks/runJob";
import { takeIn } from "./tasks/takeIn";
import { vrmFile } from "./tasks/vrmFile";

export type Progress = (done: number, total: number) => void;

/**
 * All work that reads files of others, computes on a character or writes files, by name. It runs in child processes;
 * inputs are names, hashes and paths.
 */
export const TASKS = {
  "take in": takeIn,
  relink,
  check: checkState,
  "hand off": handOff,
  "add step": addStepTask,
  "run job": runJobTask,
  "vrm file": vrmFile,
  "ledger file": ledgerFile,
} as const satisfies Record<string, (db: Db, input: never, tick: Progress) => Promise<unknown>>;

export type TaskName = keyof typeof TASKS;
export type TaskInput<N extends TaskName> = Parameters<(typeof TASKS)[N]>[1];
export type TaskOutput<N extends TaskName> = Awaited<ReturnType<(typeof TASKS)[N]>>;
