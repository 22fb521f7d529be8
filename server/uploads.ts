import { createWriteStream } from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import { Transform, type Readable } from "node:stream";
import type { Request } from "express";
import busboy from "busboy";
import { z } from "zod";
import { FILE_ROLES, type FileRole } from "../core/formats/fileRoles";
import { cleanText } from "../core/model/cleanName";
import { UserError } from "../core/model/userError";
import { Refused } from "./refusals";
import type { SpooledFile } from "./processes/tasks/spooledFiles";

const MAX_FILES = 600;
/** What each file is, in the order of the files, as JSON in the field `roles`. */
const rolesSchema = z.preprocess(
  (text) => {
    try {
      return JSON.parse(String(text)) as unknown;
    } catch {
      return null;
    }
  },
  z.array(z.enum(FILE_ROLES)).max(MAX_FILES),
);

const tooLarge = (limitBytes: number, todo: string): Refused =>
  new Refused(413, `What was sent is over ${Math.round(limitBytes / 1048576)} MB.`, "upload", todo);
const DROP_AGAIN = "Reload the page and drop the files again.";
const brokeOff = (): UserError => new UserError("The upload broke off.", "upload", "Try again.");

/** Counts what goes through and breaks off beyond the limit. @param count shared by all streams of one request. */
const limited = (limitBytes: number, count: { bytes: number }, error: () => Error): Transform =>
  new Transform({
    transform(chunk: Buffer, _encoding, done) {
      count.bytes += chunk.length;
      if (count.bytes > limitBytes) done(error());
      else done(null, chunk);
    },
  });

/**
 * Writes the files of a multipart upload into a folder, refusing before anything is kept when the request says it is
 * over the limit, and stopping as soon as what came is over it. A field `roles` says what each file is. Whatever ends
 * the request, the promise ends.
 */
export function receiveFiles(request: Request, limitBytes: number, folder: string): Promise<SpooledFile[]> {
  const over = (): Refused =>
    tooLarge(limitBytes, "Send the character without its scene, or raise YXOMORPH_MAX_UPLOAD_MB.");
  if (Number(request.headers["content-length"] ?? 0) > limitBytes + 1_000_000) return Promise.reject(over());
  let parser: ReturnType<typeof busboy>;
  try {
    parser = busboy({
      headers: request.headers,
      defParamCharset: "utf8",
      limits: { files: MAX_FILES, fields: 10, fieldSize: 100_000 },
    });
  } catch {
    return Promise.reject(new UserError("This is not a file upload.", "upload", "Drop files onto the page."));
  }
  return new Promise((resolve, reject) => {
    const files: { name: string; path: string }[] = [];
    const writing: Promise<void>[] = [];
    const count = { bytes: 0 };
    let roles: FileRole[] = [];
    let stopped = false;
    const stop = (error: unknown): void => {
      if (stopped) return;
      stopped = true;
      request.unpipe(parser);
      request.resume();
      parser.destroy();
      void Promise.allSettled(writing).then(() => reject(error));
    };
    parser.on("file", (_field, stream: Readable, info) => {
      stream.on("error", () => {}); // the pipeline tells it; one that was never piped tells it here
      if (stopped) return void stream.resume();
      const name = cleanText(info.filename ?? "file").slice(0, 300);
      const file = { name, path: path.join(folder, String(files.length)) };
      files.push(file);
      const written = pipeline(stream, limited(limitBytes, count, over), createWriteStream(file.path));
      writing.push(written);
      written.catch(stop);
    });
    parser.on("field", (name, value) => {
      if (name !== "roles") return;
      const read = rolesSchema.safeParse(value);
      if (read.success) roles = read.data;
      else stop(new UserError("The list of what each file is could not be read.", "upload", DROP_AGAIN));
    });
    parser.on("filesLimit", () =>
      stop(new UserError(`More than ${MAX_FILES} files came.`, "upload", "Drop fewer at a time.")),
    );
    const brokeOffHere = (): void => stop(brokeOff());
    parser.on("error", brokeOffHere);
    parser.on("close", () => {
      if (!stopped)
        Promise.all(writing).then(() => resolve(files.map((f, i) => (roles[i] ? { ...f, role: roles[i] } : f))), stop);
    });
    request.on("aborted", brokeOffHere);
    request.on("error", brokeOffHere);
    request.pipe(parser);
  });
}

/** Writes the body of a request into a file. @throws Refused 413 when it is over the limit. */
export async function receiveBody(request: Request, limitBytes: number, file: string): Promise<void> {
  const over = (): Refused => tooLarge(limitBytes, "It is kept in this window. Make it in smaller pieces.");
  if (Number(request.headers["content-length"] ?? 0) > limitBytes) {
    request.resume();
    throw over();
  }
  try {
    await pipeline(request, limited(limitBytes, { bytes: 0 }, over), createWriteStream(file));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw code === "ERR_STREAM_PREMATURE_CLOSE" || code === "ECONNRESET" ? brokeOff() : error;
  }
}
