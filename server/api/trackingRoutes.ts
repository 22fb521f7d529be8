import { readFile } from "node:fs/promises";
import path from "node:path";
import type { Router } from "express";
import express from "express";
import { z } from "zod";
import { channelMapSchema } from "../../core/tracking/channelMap";
import { parsed } from "../parsed";
import { dropChannelMap, keepChannelMap, listChannelMaps } from "../services/channelMaps";
import { keepSound } from "../services/sounds";
import { receiveBody } from "../uploads";
import type { RouteTools } from "./routeTools";

const bridgeSchema = z.object({ address: z.string().max(300).nullable() });
const nameSchema = z.string().trim().min(1).max(100);
/** Largest take, bytes: some minutes of hundreds of channels as a table. */
const MAX_TAKE_BYTES = 64 * 1024 * 1024;

/** Where the tracker is, takes as they came, and maps of its channels. */
export function trackingRoutes(router: Router, { db, bridge, spool, collector, handle }: RouteTools): void {
  const told = (): object => ({ address: bridge.address, named: bridge.named, standIn: bridge.standIn });
  router.get(
    "/tracking/bridge",
    handle(async (_request, response) => {
      response.json(told());
    }),
  );
  router.put(
    "/tracking/bridge",
    express.json(),
    handle(async (request, response) => {
      await bridge.name(parsed(bridgeSchema, request.body).address);
      response.json(told());
    }),
  );
  router.post(
    "/tracking/takes",
    handle(async (request, response) => {
      const raw = await spool.during(async (folder) => {
        const body = path.join(folder, "take");
        await receiveBody(request, MAX_TAKE_BYTES, body);
        return keepSound(db, new Uint8Array(await readFile(body)));
      });
      response.json({ raw });
    }),
  );
  router.get(
    "/tracking/maps",
    handle(async (_request, response) => {
      response.json({ maps: await listChannelMaps(db) });
    }),
  );
  router.put(
    "/tracking/maps/:name",
    express.json({ limit: "2mb" }),
    handle(async (request, response) => {
      const name = parsed(nameSchema, request.params["name"]);
      await keepChannelMap(db, name, parsed(channelMapSchema, request.body));
      response.json({ ok: true });
    }),
  );
  router.delete(
    "/tracking/maps/:name",
    handle(async (request, response) => {
      await dropChannelMap(db, parsed(nameSchema, request.params["name"]));
      collector.ask();
      response.json({ ok: true });
    }),
  );
}
