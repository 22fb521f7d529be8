import { createReadStream } from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import type { Router } from "express";
import type { JobReports } from "../jobs/jobBoard";
import { notThere } from "../refusals";
import { receiveBody } from "../uploads";
import { type RunningTask } from "../processes/taskPool";
import type { RouteTools } from "./routeTools";

/** A scan may come along. */
const MAX_JOB_BYTES = 512 * 1024 * 1024;

/** Jobs of the server, and long work that is asked for. */
export function jobRoutes(router: Router, { jobs, working, spool, handle, known }: RouteTools): void {
  /** Long work on a state of the character, as a container of state, job and input; its result is fetched when done. */
  router.post(
    "/characters/:id/jobs",
    handle(async (request, response) => {
      const character = await known(request);
      const folder = spool.folder();
      const [body, out] = [path.join(folder.path, "job"), path.join(folder.path, "result")];
      try {
        await receiveBody(request, MAX_JOB_BYTES, body);
      } catch (error) {
        folder.clear();
        throw error;
      }
      const title = `work on ${character}`;
      const start = (reports: JobReports): RunningTask<unknown> =>
        working.run("run job", { characterId: character, body, out }, { ...reports, title });
      const job = jobs.add(title, start, { file: out, forgotten: folder.clear });
      response.json({ job });
    }),
  );
  router.get(
    "/jobs/:id/result",
    handle(async (request, response) => {
      const file = jobs.fileOf(String(request.params["id"]));
      if (file === null) throw notThere("This job has no result.");
      response.type("application/octet-stream");
      await pipeline(createReadStream(file), response);
    }),
  );
  router.get("/jobs/:id", (request, response) => {
    const view = jobs.view(String(request.params["id"]));
    if (view) response.json(view);
    else
      response
        .status(404)
        .json({
          error: {
            what: "The job is not known: the server was started again.",
            where: "",
            todo: "Start it once more.",
          },
        });
  });
  router.delete("/jobs/:id", (request, response) => {
    jobs.cancel(String(request.params["id"]));
    response.json({ ok: true });
  });
}
