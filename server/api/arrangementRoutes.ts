import type { Router } from "express";
import express from "express";
import { z } from "zod";
import { trialSchema } from "../../core/trials/trial";
import { characterId, parsed, sound } from "../parsed";
import { dropArrangement, keepArrangement } from "../services/arrangements";
import type { RouteTools } from "./routeTools";

const keepSchema = z.object({ trial: trialSchema, revision: z.number().int().min(0) });

/** Trials as arrangements of pieces: kept, changed, dropped. */
export function arrangementRoutes(router: Router, { db, handle, known }: RouteTools): void {
  router.put(
    "/characters/:id/arrangements/:trial",
    express.json({ limit: "32mb" }),
    handle(async (request, response) => {
      const { trial, revision } = sound(parsed(keepSchema, request.body));
      const id = characterId(request.params["trial"]);
      response.json({ revision: await keepArrangement(db, id, await known(request), trial, revision) });
    }),
  );
  router.delete(
    "/characters/:id/arrangements/:trial",
    handle(async (request, response) => {
      await known(request);
      await dropArrangement(db, characterId(request.params["trial"]));
      response.json({ ok: true });
    }),
  );
}
