import { readFile } from "node:fs/promises";
import path from "node:path";
import type { Router } from "express";
import express from "express";
import { z } from "zod";
import { UserError } from "../../core/model/userError";
import { phonesTyped } from "../../voice/sayLine";
import { parsed } from "../parsed";
import { dropOwnWord, keepOwnWord, listOwnWords } from "../services/ownWords";
import { keepSound } from "../services/sounds";
import { receiveBody } from "../uploads";
import type { RouteTools } from "./routeTools";

const saySchema = z.object({
  text: z.string().max(20_000),
  voice: z.enum(["alto", "bass", "tenor", "buzz"]).default("alto"),
  pace: z.number().min(0.5).max(2).default(1),
});
const recordingSchema = z.object({ text: z.string().max(20_000), file: z.string().max(200).default("recording") });
const phonesSchema = z.object({ phones: z.string().max(400) });

/** Longest recording, bytes: ten minutes of two channels at 48 kHz. */
const MAX_WAV_BYTES = 128 * 1024 * 1024;
const wordOf = (text: unknown): string => {
  const word = String(text).toLowerCase();
  if (!/^[a-z']{1,60}$/.test(word))
    throw new UserError("This is no plain word.", "", "Use letters a to z and apostrophes, without spaces.");
  return word;
};

/** Lines spoken by the synthesiser, recordings with their text, and pronunciations of one's own. */
export function speechRoutes(router: Router, tools: RouteTools): void {
  lineRoutes(router, tools);
  wordRoutes(router, tools);
}

/** Lines, and sounds that are sent. */
function lineRoutes(router: Router, { db, voices, spool, handle }: RouteTools): void {
  router.post(
    "/speech/lines",
    express.json({ limit: "100kb" }),
    handle(async (request, response) => {
      const { text, voice, pace } = parsed(saySchema, request.body);
      const { line, wav, notes } = await voices.say(text, voice, pace, await listOwnWords(db));
      response.json({ line, notes, sound: await keepSound(db, wav) });
    }),
  );
  router.post(
    "/speech/recordings",
    handle(async (request, response) => {
      const { text, file } = parsed(recordingSchema, request.query);
      const answer = await spool.during(async (folder) => {
        const body = path.join(folder, "recording");
        await receiveBody(request, MAX_WAV_BYTES, body);
        const wav = new Uint8Array(await readFile(body));
        const { line, notes, distance } = await voices.align(wav, file, text, await listOwnWords(db));
        return { line, notes, distance, sound: await keepSound(db, wav) };
      });
      response.json(answer);
    }),
  );
  router.post(
    "/speech/sounds",
    handle(async (request, response) => {
      const { file } = parsed(recordingSchema, { text: "", ...request.query });
      const answer = await spool.during(async (folder) => {
        const body = path.join(folder, "recording");
        await receiveBody(request, MAX_WAV_BYTES, body);
        const wav = new Uint8Array(await readFile(body));
        const seconds = await voices.listen(wav, file);
        return { seconds, sound: await keepSound(db, wav) };
      });
      response.json(answer);
    }),
  );
}

/** Pronunciations. */
function wordRoutes(router: Router, { db, voices, collector, handle }: RouteTools): void {
  router.get(
    "/speech/words/:word",
    handle(async (request, response) => {
      const word = wordOf(request.params["word"]);
      response.json({ ways: await voices.ways(word), own: (await listOwnWords(db))[word] ?? null });
    }),
  );
  router.get(
    "/speech/words",
    handle(async (_request, response) => {
      response.json({ words: await listOwnWords(db) });
    }),
  );
  router.put(
    "/speech/words/:word",
    express.json(),
    handle(async (request, response) => {
      const word = wordOf(request.params["word"]);
      const { phones } = parsed(phonesSchema, request.body);
      await keepOwnWord(db, word, phonesTyped(word, phones).join(" "));
      response.json({ ok: true });
    }),
  );
  router.delete(
    "/speech/words/:word",
    handle(async (request, response) => {
      await dropOwnWord(db, wordOf(request.params["word"]));
      collector.ask();
      response.json({ ok: true });
    }),
  );
}
