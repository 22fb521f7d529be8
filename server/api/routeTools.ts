import { type Request, type Response } from "express";
import type { Logger } from "pino";
import type { BlobCollector } from "../blobs/collectBlobs";
import type { Db } from "../db/connect";
import type { JobBoard } from "../jobs/jobBoard";
import { characterId } from "../parsed";
import { asWords, notThere, statusOf, toldOf } from "../refusals";
import type { Voices } from "../speech/voices";
import type { TrackerBridge } from "../tracking/bridge";
import { getCharacter } from "../services/characters";
import type { Spool } from "../processes/spool";
import { type TaskPool } from "../processes/taskPool";

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
  /** Runs jobs that pages or others ask for. */
  readonly working: TaskPool;
  /** Speaks lines. */
  readonly voices: Voices;
  /** Knows where the tracker is. */
  readonly bridge: TrackerBridge;
  readonly spool: Spool;
  readonly collector: BlobCollector;
  readonly uploadLimitBytes: number;
}

/** What every group of routes works with. */
export interface RouteTools extends ApiSettings {
  /** A handler whose errors are answered in words. */
  readonly handle: (
    work: (request: Request, response: Response) => Promise<void>,
  ) => (request: Request, response: Response) => void;
  /** The character's id as the address has it. @throws Refused where it can be none. */
  readonly id: (request: Request) => string;
  /** The same of a character that is there. @throws Refused otherwise. */
  readonly known: (request: Request) => Promise<string>;
  readonly answerError: (error: unknown, request: Request, response: Response) => void;
}

export function routeTools(settings: ApiSettings): RouteTools {
  const { db, log } = settings;
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
  return { ...settings, handle, id, known, answerError };
}
