import path from "node:path";
import type { Router } from "express";
import express from "express";
import { z } from "zod";
import { findingSchema } from "../../core/checks/findingSchema";
import { parsed, rowId, sound } from "../parsed";
import { takenBack } from "../refusals";
import { dropBranch, takeUpBranch } from "../services/branches";
import { moveHead, type TakenStep } from "../services/ledger";
import { keepTrial } from "../services/trials";
import { receiveBody } from "../uploads";
import { TaskCancelled, type RunningTask } from "../processes/taskPool";
import type { RouteTools } from "./routeTools";

const MAX_STEP_BYTES = 64 * 1024 * 1024;
const readingSchema = z.object({ volume: z.number(), depth: z.number(), stretch: z.number(), flips: z.number() });
const rowSchema = z.object({
  joint: z.string(),
  motion: z.string(),
  angle: z.number(),
  without: readingSchema,
  with: readingSchema,
});
const trialSchema = z.object({
  state: z.string().max(100),
  motion: z.string().max(400),
  method: z.enum(["linear", "dual"]),
  rows: z.array(rowSchema).max(1000),
  findings: z.array(findingSchema).max(100),
});
/** Name of the job that a page follows while its request is not answered yet. */
const jobSchema = z.object({ job: z.string().uuid().optional() });
const stateSchema = z.object({ state: z.string().max(100) });
const headSchema = z.object({ by: z.number().int().min(-1e6).max(1e6), revision: z.number().int() });
const revisionSchema = z.object({ revision: z.coerce.number().int() });

/** The ledger: steps, undo and redo, branches; checks and trials of its states. */
export function ledgerRoutes(router: Router, tools: RouteTools): void {
  stepRoutes(router, tools);
  historyRoutes(router, tools);
  stateRoutes(router, tools);
}

/** New steps. */
function stepRoutes(router: Router, { jobs, steps, spool, handle, id }: RouteTools): void {
  router.post(
    "/characters/:id/steps",
    handle(async (request, response) => {
      const character = id(request);
      const { job } = parsed(jobSchema, request.query);
      response.json(
        await spool.during(async (folder) => {
          const body = path.join(folder, "step");
          await receiveBody(request, MAX_STEP_BYTES, body);
          const title = "the change";
          let task!: RunningTask<TakenStep>;
          jobs.add(
            title,
            (reports) =>
              (task = steps.run(
                "add step",
                { characterId: character, body },
                { ...reports, title, key: `steps of ${character}` },
              )),
            job ? { id: job } : {},
          );
          return task.result.catch((error: unknown) => {
            throw error instanceof TaskCancelled ? takenBack() : error;
          });
        }),
      );
    }),
  );
}

/** Undo, redo and branches. */
function historyRoutes(router: Router, { db, collector, handle, id }: RouteTools): void {
  router.post(
    "/characters/:id/head",
    express.json(),
    handle(async (request, response) => {
      const { by, revision } = parsed(headSchema, request.body);
      response.json({ revision: await moveHead(db, id(request), revision, by) });
    }),
  );
  router.post(
    "/characters/:id/branches/:branch",
    express.json(),
    handle(async (request, response) => {
      const { revision } = parsed(revisionSchema, request.body);
      response.json({
        revision: await takeUpBranch(
          db,
          id(request),
          rowId(request.params["branch"], "These steps are not kept any more."),
          revision,
        ),
      });
    }),
  );
  router.delete(
    "/characters/:id/branches/:branch",
    handle(async (request, response) => {
      await dropBranch(db, id(request), rowId(request.params["branch"], "These steps are not kept any more."));
      collector.ask();
      response.json({ ok: true });
    }),
  );
}

/** What was measured on a state. */
function stateRoutes(router: Router, { db, jobs, checking, handle, known }: RouteTools): void {
  router.post(
    "/characters/:id/checks",
    express.json(),
    handle(async (request, response) => {
      const { state } = sound(parsed(stateSchema, request.body));
      const character = await known(request);
      response.json({
        job: jobs.add("Checking", (reports) =>
          checking.run(
            "check",
            { characterId: character, state },
            { ...reports, title: character, key: `check of ${character}` },
          ),
        ),
      });
    }),
  );
  router.post(
    "/characters/:id/trials",
    express.json({ limit: "8mb" }),
    handle(async (request, response) => {
      const { state, ...trial } = sound(parsed(trialSchema, request.body));
      await keepTrial(db, await known(request), state, trial);
      response.json({ ok: true });
    }),
  );
}
