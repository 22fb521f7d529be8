import express, { Router, type Response } from "express";
import type { Logger } from "pino";
import { z } from "zod";
import { findingSchema } from "../core/checks/finding";
import { decodeContainer } from "../core/formats/container";
import { stepSchema } from "../core/ledger/steps";
import { isUserError, UserError } from "../core/model/userError";
import { databaseLost, type Db } from "./db/connect";
import type { JobBoard } from "./jobs/jobBoard";
import { handOff } from "./jobs/handOff";
import { relink } from "./jobs/relink";
import { takeIn } from "./jobs/takeIn";
import { getBlob } from "./services/blobs";
import { deleteCharacter, getCharacter, listCast } from "./services/characters";
import { keepCheckRun } from "./services/checkRuns";
import { dropDelivery, ledgerFileOf } from "./services/deliveries";
import { getHandOff } from "./services/handOffs";
import { addStep, moveHead, readLedger } from "./services/ledger";
import { vrmOf } from "./services/vrm";
import { keepTrial } from "./services/trials";
import { receiveFiles } from "./uploads";

const MAX_STEP_BYTES = 64 * 1024 * 1024;

const readingSchema = z.object({ volume: z.number(), depth: z.number(), stretch: z.number(), flips: z.number() });
const rowSchema = z.object({ joint: z.string(), motion: z.string(), angle: z.number(), without: readingSchema, with: readingSchema });
const trialSchema = z.object({ state: z.string(), motion: z.string().max(400), method: z.enum(["linear", "dual"]), rows: z.array(rowSchema).max(1000), findings: z.array(findingSchema).max(100) });
const runSchema = z.object({ state: z.string(), profile: z.string().max(100), findings: z.array(findingSchema).max(20_000) });
const stepBody = z.object({ step: stepSchema, revision: z.number().int(), blobs: z.array(z.instanceof(Uint8Array)).max(2000) });

/** Binary and JSON routes beside the pages: geometry, ledger steps, uploads, jobs, trials, downloads. */
export function apiRouter(db: Db, jobs: JobBoard, log: Logger, uploadLimitBytes: number): Router {
  const router = Router();
  const handle = (work: (request: express.Request, response: Response) => Promise<void>) => (request: express.Request, response: Response): void => {
    work(request, response).catch((error: unknown) => {
      const lost = databaseLost(error);
      const told = isUserError(error) ? error : lost;
      if (!told) log.error({ err: error }, `${request.method} ${request.path}`);
      response.status(lost ? 503 : told ? 422 : 500).json({ error: told ? { what: told.what, where: told.where, todo: told.todo } : { what: "The server failed at this.", where: "", todo: "Its log says why. Try again." } });
    });
  };
  const parse = <T>(schema: z.ZodType<T>, value: unknown): T => {
    const result = schema.safeParse(value);
    if (!result.success) throw new UserError(`The request does not fit: ${result.error.issues[0]?.path.join(".") ?? ""} ${result.error.issues[0]?.message ?? ""}`, "", "Reload the page.");
    return result.data;
  };
  const id = (request: express.Request): string => String(request.params["id"]);

  router.get("/blobs/:hash", handle(async (request, response) => {
    const hash = String(request.params["hash"]);
    const bytes = /^[0-9a-f]{64}$/.test(hash) ? await getBlob(db, hash) : null;
    if (!bytes) return void response.status(404).end();
    response.setHeader("Cache-Control", "private, max-age=31536000, immutable");
    response.type("application/octet-stream").send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  }));

  router.get("/characters", handle(async (_request, response) => {
    response.json({ characters: (await listCast(db)).map((c) => ({ id: c.id, name: c.name, role: c.role })) });
  }));
  /** What it takes to build the character as it stands: the base's geometry and the steps in force. */
  router.get("/characters/:id/state", handle(async (request, response) => {
    const ledger = await readLedger(db, id(request));
    if (!ledger) throw new UserError("There is no such character.", "", "");
    response.json({ baseBlob: ledger.baseBlob, steps: ledger.entries.slice(0, ledger.head).map((e) => e.step) });
  }));
  router.post("/characters/:id/steps", express.raw({ type: "application/octet-stream", limit: MAX_STEP_BYTES }), handle(async (request, response) => {
    const body = parse(stepBody, decodeContainer(new Uint8Array(request.body as Buffer)));
    response.json({ revision: await addStep(db, id(request), body.revision, body.step, body.blobs as Uint8Array[]) });
  }));
  router.post("/characters/:id/head", express.json(), handle(async (request, response) => {
    const { by, revision } = parse(z.object({ by: z.number().int(), revision: z.number().int() }), request.body);
    response.json({ revision: await moveHead(db, id(request), revision, by) });
  }));
  router.post("/characters/:id/checks", express.json({ limit: "32mb" }), handle(async (request, response) => {
    const run = parse(runSchema, request.body);
    if (!(await getCharacter(db, id(request)))) throw new UserError("There is no such character.", "", "");
    await keepCheckRun(db, id(request), run.state, run.profile, run.findings);
    response.json({ ok: true });
  }));
  router.post("/characters/:id/trials", express.json({ limit: "8mb" }), handle(async (request, response) => {
    const { state, ...trial } = parse(trialSchema, request.body);
    if (!(await getCharacter(db, id(request)))) throw new UserError("There is no such character.", "", "");
    await keepTrial(db, id(request), state, trial);
    response.json({ ok: true });
  }));
  router.delete("/characters/:id", handle(async (request, response) => {
    await deleteCharacter(db, id(request));
    response.json({ ok: true });
  }));
  router.post("/deliveries", handle(async (request, response) => {
    const files = await receiveFiles(request, uploadLimitBytes);
    const title = files.length === 1 ? files[0]!.name : `${files.length} files`;
    response.json({ job: jobs.add(`Taking in ${title}`, (progress) => takeIn(db, files, progress)) });
  }));
  router.post("/characters/:id/deliveries", handle(async (request, response) => {
    const files = await receiveFiles(request, uploadLimitBytes);
    const title = files.length === 1 ? files[0]!.name : `${files.length} files`;
    response.json({ job: jobs.add(`Relinking to ${title}`, (progress) => relink(db, id(request), files, progress)) });
  }));
  router.delete("/characters/:id/deliveries/:delivery", handle(async (request, response) => {
    await dropDelivery(db, id(request), Number(request.params["delivery"]) || 0);
    response.json({ ok: true });
  }));
  router.get("/characters/:id/ledger.json", handle(async (request, response) => {
    const file = await ledgerFileOf(db, id(request));
    response.attachment(`${id(request)} ledger.json`).type("application/json").send(`${JSON.stringify(file, null, 1)}\n`);
  }));
  router.post("/characters/:id/handoffs", handle(async (request, response) => {
    response.json({ job: jobs.add("Writing and reading back", (progress) => handOff(db, id(request), progress)) });
  }));
  router.get("/jobs/:id", (request, response) => {
    const view = jobs.view(id(request));
    if (view) response.json(view);
    else response.status(404).json({ error: { what: "The job is not known: the server was started again.", where: "", todo: "Start it once more." } });
  });
  router.delete("/jobs/:id", (request, response) => {
    jobs.cancel(id(request));
    response.json({ ok: true });
  });
  router.get("/handoffs/:id/:kind", handle(async (request, response) => {
    const row = await getHandOff(db, Number(request.params["id"]) || 0);
    if (!row) return void response.status(404).end();
    const name = `${row.characterId}-v${row.version}`;
    if (request.params["kind"] === "sidecar") return void response.attachment(`${name}.json`).type("application/json").send(row.sidecar);
    const bytes = await getBlob(db, row.glbBlob);
    if (!bytes) return void response.status(404).end();
    if (request.params["kind"] === "vrm") return void response.attachment(`${name}.vrm`).type("model/gltf-binary").send(Buffer.from(await vrmOf(bytes, row.characterId)));
    response.attachment(`${name}.glb`).type("model/gltf-binary").send(Buffer.from(bytes));
  }));
  router.use((_request, response) => void response.status(404).json({ error: { what: "There is no such address.", where: "", todo: "" } }));
  return router;
}
