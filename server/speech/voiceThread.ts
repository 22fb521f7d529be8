import { parentPort } from "node:worker_threads";
import { isUserError } from "../../core/model/userError";
import { waysOf } from "../../voice/dictionary";
import { isVoice } from "../../voice/flite";
import { alignRecording } from "../../voice/alignRecording";
import { readWav } from "../../voice/readWav";
import { sayLine } from "../../voice/sayLine";
import type { VoiceAnswer, VoiceQuestion } from "./voices";

/** Runs the synthesiser beside the server: one question after another. */
const port = parentPort!;

async function answer(asked: VoiceQuestion): Promise<unknown> {
  switch (asked.kind) {
    case "say": {
      const voice = isVoice(asked.voice) ? asked.voice : "alto";
      const { line, wav, notes } = await sayLine(asked.text, voice, asked.pace, asked.own);
      return { line, wav, notes };
    }
    case "align":
      return alignRecording(asked.wav, asked.file, asked.text, asked.own);
    case "listen": {
      const { samples, rate } = readWav(asked.wav, asked.file);
      return samples.length / rate;
    }
    case "ways":
      return waysOf(asked.word);
  }
}

let last: Promise<void> = Promise.resolve();
port.on("message", ({ id, asked }: { id: number; asked: VoiceQuestion }) => {
  last = last.then(async () => {
    let said: VoiceAnswer;
    try {
      said = { id, result: await answer(asked) };
    } catch (error) {
      said = isUserError(error)
        ? { id, refused: { what: error.what, where: error.where, todo: error.todo } }
        : { id, failed: error instanceof Error ? (error.stack ?? error.message) : String(error) };
    }
    port.postMessage(said);
  });
});
