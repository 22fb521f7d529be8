import { createReadStream } from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import type { Router } from "express";
import { type Response } from "express";
import { blobSize, readPieces } from "../blobs/blobStore";
import { rowId } from "../parsed";
import { notThere } from "../refusals";
import { getHandOff } from "../services/handOffs";
import type { RouteTools } from "./routeTools";

/** Files that go out: ledgers and hand-offs. */
export function handOffRoutes(router: Router, tools: RouteTools): void {
  writingRoutes(router, tools);
  writtenRoutes(router, tools);
}

/** Sends a file that a task writes. */
const writtenBy = (
  spool: RouteTools["spool"],
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

function writingRoutes(router: Router, { jobs, writing, spool, handle, known }: RouteTools): void {
  router.get(
    "/characters/:id/ledger.json",
    handle(async (request, response) => {
      const character = await known(request);
      await writtenBy(
        spool,
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
}

/** Files of hand-offs that are kept. */
function writtenRoutes(router: Router, { db, writing, spool, handle }: RouteTools): void {
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
          spool,
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
}
