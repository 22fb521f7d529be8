import { createReadStream } from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import express, { Router, type Request, type Response } from "express";
import type { Logger } from "pino";
import { z } from "zod";
import { findingSchema } from "../core/checks/finding";
import type { BlobCollector } from "./blobs/collectBlobs";
import { blobSize, readPieces } from "./blobs/blobStore";
import type { Db } from "./db/connect";
import type { JobBoard } from "./jobs/jobBoard";
import { characterId, parsed, rowId, sound } from "./parsed";
import { asWords, notThere, statusOf, takenBack, toldOf } from "./refusals";
import { dropBranch, takeUpBranch } from "./services/branches";
import { deleteCharacter, getCharacter, listCast, renameCharacter } from "./services/characters";
import { dropDelivery, settleWaiting } from "./services/deliveries";
import { getHandOff } from "./services/handOffs";
import { moveHead, readLedger, type TakenStep } from "./services/ledger";
import { keepTrial } from "./services/trials";
import { receiveBody, receiveFiles } from "./uploads";
import type { Spool } from "./processes/spool";
import { TaskCancelled, type RunningTask, type TaskPool } from "./processes/taskPool";
import type { SpooledFile } from "./processes/tasks/spooledFiles";

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
const settledSchema = z.object({ outcome: z.enum(["applied later", "dropped"]) });
const nameSchema = z.object({ name: z.string().trim().min(1).max(200) });
const headSchema = z.object({ by: z.number().int().min(-1e6).max(1e6), revision: z.number().int() });
const revisionSchema = z.object({ revision: z.coerce.number().int() });

export interface ApiSettings {
  readonly db: Db;
  readonly log: Logger;
  readonly jobs: JobBoard;
  /** Reads what others made. */
  readonly reading: TaskPool;
  /** Applies steps. */
  readonly steps: TaskPool;
  /** Writes files of characters. */
  readonly writing: TaskPool;
  /** Checks states. */
  readonly checking: TaskPool;
  readonly spool: Spool;
  readonly collector: BlobCollector;
  readonly uploadLimitBytes: number;
}

/** Binary and JSON routes beside the pages: geometry, ledger steps, uploads, jobs, trials, downloads. */
export function apiRouter({
  db,
  log,
  jobs,
  reading,
  steps,
  writing,
  checking,
  spool,
  collector,
  uploadLimitBytes,
}: ApiSettings): Router {
  const router = Router();
  const answerError = (error: unknown, request: Request, response: Response): void => {
    if (response.headersSent) return void response.destroy();
    const told = toldOf(error);
    if (!told) log.error({ err: error }, `${request.method} ${request.path}`);
    response
      .status(statusOf(error))
      .json({
        error: told
          ? asWords(told)
          : { what: "The server failed at this.", where: "", todo: "Its log says why. Try again." },
      });
  };
  const handle =
    (work: (request: Request, response: Response) => Promise<void>) =>
    (request: Request, response: Response): void => {
      work(request, response).catch((error: unknown) => answerError(error, request, response));
    };
  const id = (request: Request): string => characterId(request.params["id"]);
  const known = async (request: Request): Promise<string> => {
    const found = await getCharacter(db, id(request));
    if (!found) throw notThere();
    return found.id;
  };

  router.get(
    "/blobs/:hash",
    handle(async (request, response) => {
      const hash = String(request.params["hash"]);
      const size = /^[0-9a-f]{64}$/.test(hash) ? await blobSize(db, hash) : null;
      if (size === null) return void response.status(404).end();
      response.setHeader("Cache-Control", "private, max-age=31536000, immutable, no-transform");
      response.setHeader("Content-Length", size);
      response.type("application/octet-stream");
      await pipeline(readPieces(db, hash), response);
    }),
  );

  router.get(
    "/characters",
    handle(async (_request, response) => {
      response.json({ characters: (await listCast(db)).map((c) => ({ id: c.id, name: c.name, role: c.role })) });
    }),
  );
  /** What it takes to build the character as it stands: the base's geometry and the steps in force. */
  router.get(
    "/characters/:id/state",
    handle(async (request, response) => {
      const ledger = await readLedger(db, id(request));
      if (!ledger) throw notThere();
      response.json({
        baseBlob: ledger.baseBlob,
        revision: ledger.revision,
        steps: ledger.entries.slice(0, ledger.head).map((e) => e.step),
      });
    }),
  );
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
            job,
          );
          return task.result.catch((error: unknown) => {
            throw error instanceof TaskCancelled ? takenBack() : error;
          });
        }),
      );
    }),
  );
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
  router.patch(
    "/characters/:id",
    express.json(),
    handle(async (request, response) => {
      const { name } = sound(parsed(nameSchema, request.body));
      await renameCharacter(db, id(request), name);
      response.json({ ok: true });
    }),
  );
  router.delete(
    "/characters/:id",
    handle(async (request, response) => {
      await deleteCharacter(db, id(request));
      collector.ask();
      response.json({ ok: true });
    }),
  );

  /** Receives files and starts a job on them; the files go when it has ended. */
  const withFiles = async (
    request: Request,
    response: Response,
    says: string,
    start: (files: SpooledFile[]) => Parameters<TaskPool["run"]>,
  ): Promise<void> => {
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
  };
  router.post(
    "/deliveries",
    handle(async (request, response) =>
      withFiles(request, response, "Taking in", (files) => ["take in", { files }, { title: "" }]),
    ),
  );
  router.post(
    "/characters/:id/deliveries",
    handle(async (request, response) => {
      const character = await known(request);
      await withFiles(request, response, "Relinking to", (files) => [
        "relink",
        { characterId: character, files },
        { title: "", key: `delivery of ${character}` },
      ]);
    }),
  );
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

  /** Sends a file that a task writes. */
  const writtenBy = (
    response: Response,
    name: string,
    type: string,
    write: (out: string) => Promise<unknown>,
  ): Promise<void> =>
    spool.during(async (folder) => {
      const out = path.join(folder, "out");
      await write(out);
      response.attachment(name).type(type);
      await pipeline(createReadStream(out), response);
    });
  router.get(
    "/characters/:id/ledger.json",
    handle(async (request, response) => {
      const character = await known(request);
      await writtenBy(
        response,
        `${character} ledger.json`,
        "application/json",
        (out) =>
          writing.run("ledger file", { characterId: character, out }, { title: `the ledger of ${character}` }).result,
      );
    }),
  );
  router.post(
    "/characters/:id/handoffs",
    handle(async (request, response) => {
      const character = await known(request);
      response.json({
        job: jobs.add("Writing and reading back", (reports) =>
          writing.run(
            "hand off",
            { characterId: character },
            { ...reports, title: character, key: `hand-off of ${character}` },
          ),
        ),
      });
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
  router.get(
    "/handoffs/:id/:kind",
    handle(async (request, response) => {
      const row = await getHandOff(db, rowId(request.params["id"], "There is no such hand-off."));
      if (!row) throw notThere("There is no such hand-off.");
      const name = `${row.characterId}-v${row.version}`;
      if (request.params["kind"] === "sidecar")
        return void response.attachment(`${name}.json`).type("application/json").send(row.sidecar);
      if (request.params["kind"] === "vrm")
        return writtenBy(
          response,
          `${name}.vrm`,
          "model/gltf-binary",
          (out) =>
            writing.run("vrm file", { glbBlob: row.glbBlob, name: row.characterId, out }, { title: `${name}.vrm` })
              .result,
        );
      const size = await blobSize(db, row.glbBlob);
      if (request.params["kind"] !== "glb" || size === null) throw notThere("There is no such file of this hand-off.");
      response.attachment(`${name}.glb`).type("model/gltf-binary").setHeader("Content-Length", size);
      await pipeline(readPieces(db, row.glbBlob), response);
    }),
  );
  router.use(
    (_request, response) =>
      void response.status(404).json({ error: { what: "There is no such address.", where: "", todo: "" } }),
  );
  // what is wrong with the request itself: an address or a body that cannot be read
  router.use(
    (error: { status?: number; type?: string }, request: Request, response: Response, _next: express.NextFunction) => {
      const status = error.status ?? 500;
      if (status === 413)
        return void response.status(413).json({ error: { what: "What was sent is too large.", where: "", todo: "" } });
      if (status >= 400 && status < 500)
        return void response
          .status(status === 400 && error.type === undefined ? 404 : 422)
          .json({ error: { what: "The request cannot be read.", where: "", todo: "Reload the page." } });
      answerError(error, request, response);
    },
  );
  return router;
}
