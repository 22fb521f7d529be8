import { connect, type Db } from "../db/connect";
import { asWords, statusOf, toldOf } from "../refusals";
import type { Report } from "./taskPool";
import { TASKS, type TaskName } from "./tasks";

/**
 * Runs tasks that its parent sends, one after the other, with a database connection of its own; ends with its parent.
 */
const tell = (report: Report): void => void process.send?.(report);
const { db } = connect(process.env["YXOMORPH_CHILD_DATABASE"] ?? "", 2);
const PROGRESS_MS = 60;

async function run({ name, input }: { name: TaskName; input: never }): Promise<Report> {
  let last = 0;
  const tick = (done: number, total: number): void => {
    if (Date.now() - last < PROGRESS_MS && done < total) return;
    last = Date.now();
    tell({ kind: "progress", done, total });
  };
  try {
    return {
      kind: "done",
      result: await (
        TASKS[name] as (db: Db, input: never, tick: (done: number, total: number) => void) => Promise<unknown>
      )(db, input, tick),
    };
  } catch (error) {
    const told = toldOf(error);
    if (told) return { kind: "refused", status: statusOf(error), ...asWords(told) };
    return { kind: "failed", stack: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}

process.on("message", (task: { name: TaskName; input: never }) => void run(task).then(tell));
process.on("disconnect", () => process.exit(0));
process.on("SIGINT", () => {}); // a terminal sends it to all processes of the group; the parent says when to end
tell({ kind: "ready" });
