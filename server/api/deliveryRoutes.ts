import type { Router } from "express";
import express, { type Request, type Response } from "express";
import { z } from "zod";
import { parsed, rowId } from "../parsed";
import { dropDelivery, settleWaiting } from "../services/deliveries";
import { receiveFiles } from "../uploads";
import { type TaskPool } from "../processes/taskPool";
import type { SpooledFile } from "../processes/tasks/spooledFiles";
import type { RouteTools } from "./routeTools";

const settledSchema = z.object({ outcome: z.enum(["applied later", "dropped"]) });
const revisionSchema = z.object({ revision: z.coerce.number().int() });

/** Deliveries: taken in, relinked, taken back; steps that wait. */
export function deliveryRoutes(router: Router, tools: RouteTools): void {
  takingInRoutes(router, tools);
  takenRoutes(router, tools);
}

/** Receives files and starts a job on them; the files go when it has ended. */
async function withFiles(
  { jobs, reading, spool, uploadLimitBytes }: RouteTools,
  request: Request,
  response: Response,
  says: string,
  start: (files: SpooledFile[]) => Parameters<TaskPool["run"]>,
): Promise<void> {
  const folder = spool.folder();
  try {
    const files = await receiveFiles(request, uploadLimitBytes, folder.path);
    const title = files.length === 1 ? files[0]!.name : `${files.length} files`;
    const [name, input, options] = start(files);
    response.json({
      job: jobs.add(`${says} ${title}`, (reports) => {
        const task = reading.run(name, input, { ...options, ...reports, title });
        task.result.catch(() => {}).finally(folder.clear);
        return task;
      }),
    });
  } catch (error) {
    folder.clear();
    throw error;
  }
}

/** New characters, and deliveries of those that are there. */
function takingInRoutes(router: Router, tools: RouteTools): void {
  const { handle, known } = tools;
  router.post(
    "/deliveries",
    handle(async (request, response) =>
      withFiles(tools, request, response, "Taking in", (files) => ["take in", { files }, { title: "" }]),
    ),
  );
  router.post(
    "/characters/:id/deliveries",
    handle(async (request, response) => {
      const character = await known(request);
      await withFiles(tools, request, response, "Relinking to", (files) => [
        "relink",
        { characterId: character, files },
        { title: "", key: `delivery of ${character}` },
      ]);
    }),
  );
}

/** What becomes of deliveries that were taken in. */
function takenRoutes(router: Router, { db, collector, handle, id }: RouteTools): void {
  router.delete(
    "/characters/:id/deliveries/:delivery",
    handle(async (request, response) => {
      const { revision } = parsed(revisionSchema, request.query);
      await dropDelivery(db, id(request), rowId(request.params["delivery"], "There is no such delivery."), revision);
      collector.ask();
      response.json({ ok: true });
    }),
  );

  router.post(
    "/characters/:id/deliveries/:delivery/waiting/:index",
    express.json(),
    handle(async (request, response) => {
      const { outcome } = parsed(settledSchema, request.body);
      await settleWaiting(
        db,
        id(request),
        rowId(request.params["delivery"], "There is no such delivery."),
        Number(request.params["index"]),
        outcome,
      );
      response.json({ ok: true });
    }),
  );
}
