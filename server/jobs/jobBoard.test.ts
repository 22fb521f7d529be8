import { UserError } from "../../core/model/userError";
import { JobBoard, type JobReports } from "./jobBoard";
import { TaskCancelled } from "../processes/taskPool";

const logged: string[] = [];
const board = new JobBoard({ error: (_: unknown, text: string) => logged.push(text) } as never);
const settled = (): Promise<void> => new Promise((r) => setTimeout(r, 5));

describe("the board of jobs", () => {
  it("shows progress while a job runs, never beyond the whole, and its result when it is done", async () => {
    let finish: (value: unknown) => void = () => {};
    let reports!: JobReports;
    const id = board.add("reading", (given) => {
      reports = given;
      return { result: new Promise((r) => (finish = r)), cancel: () => {} };
    });
    expect(board.view(id)).toMatchObject({
      id,
      title: "reading",
      state: "running",
      progress: 0,
      before: 0,
      error: null,
      result: null,
    });
    reports.progress(4, 10);
    expect(board.view(id)!.progress).toBe(0.4);
    reports.progress(17, 10);
    expect(board.view(id)!.progress).toBe(1);
    reports.place(3);
    expect(board.view(id)!.before).toBe(3);
    finish({ character: "oda" });
    await settled();
    expect(board.view(id)).toMatchObject({ state: "done", progress: 1, result: { character: "oda" } });
    // a report that comes late changes nothing
    reports.progress(1, 10);
    expect(board.view(id)).toMatchObject({ state: "done", progress: 1 });
  });
  it("tells a refusal in its own words, and a fault without its insides, which go to the log", async () => {
    const refused = board.add("reading", () => ({
      result: Promise.reject(new UserError("No file came.", "upload", "Drop one.")),
      cancel: () => {},
    }));
    const failed = board.add("checking", () => ({
      result: Promise.reject(new Error("secret at line 3")),
      cancel: () => {},
    }));
    await settled();
    expect(board.view(refused)).toMatchObject({
      state: "refused",
      error: { what: "No file came.", where: "upload", todo: "Drop one." },
    });
    expect(board.view(failed)).toMatchObject({ state: "refused", error: { where: "checking" } });
    expect(JSON.stringify(board.view(failed))).not.toContain("secret");
    expect(logged).toEqual(["job failed: checking"]);
  });
  it("cancels the one that is asked for; others go on, and unknown ones are none", async () => {
    const cancelled: string[] = [];
    const start = (name: string) => (): { result: Promise<unknown>; cancel: () => void } => {
      let stop: (error: Error) => void = () => {};
      return {
        result: new Promise((_, reject) => (stop = reject)),
        cancel: () => (cancelled.push(name), stop(new TaskCancelled())),
      };
    };
    const [a, b] = [board.add("a", start("a")), board.add("b", start("b"))];
    board.cancel(a);
    board.cancel("nothing");
    await settled();
    expect(cancelled).toEqual(["a"]);
    expect([board.view(a)!.state, board.view(b)!.state]).toEqual(["cancelled", "running"]);
    expect(board.view("nothing")).toBeNull();
  });
});
