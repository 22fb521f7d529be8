import { pipeline } from "node:stream/promises";
import type { Router } from "express";
import express from "express";
import { z } from "zod";
import { blobSize, readPieces } from "../blobs/blobStore";
import { ServedBlobs } from "../blobs/servedBlobs";
import { parsed, sound } from "../parsed";
import { notThere } from "../refusals";
import { deleteCharacter, listCast, renameCharacter } from "../services/characters";
import { readLedger } from "../services/ledger";
import type { RouteTools } from "./routeTools";

const nameSchema = z.object({ name: z.string().trim().min(1).max(200) });

/** Geometry by its hash, the cast, and a character's state, name and end. */
export function characterRoutes(router: Router, { db, collector, handle, id }: RouteTools): void {
  const served = new ServedBlobs((hash) => readPieces(db, hash));
  router.get(
    "/blobs/:hash",
    handle(async (request, response) => {
      const hash = String(request.params["hash"]);
      const size = /^[0-9a-f]{64}$/.test(hash) ? await blobSize(db, hash) : null;
      if (size === null) return void response.status(404).end();
      response.setHeader("Cache-Control", "private, max-age=31536000, immutable, no-transform");
      response.setHeader("Content-Length", size);
      response.type("application/octet-stream");
      await pipeline(served.pieces(hash, size), response);
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
}
