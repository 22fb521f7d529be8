import type { Request } from "express";
import busboy from "busboy";
import { z } from "zod";
import { FILE_ROLES, type FileRole } from "../core/formats/fileRoles";
import type { DeliveryFile } from "../core/formats/readDelivery";
import { UserError } from "../core/model/userError";

const MAX_FILES = 600;
/** What each file is, in the order of the files, as JSON in the field `roles`. */
const rolesSchema = z.preprocess((text) => {
  try {
    return JSON.parse(String(text)) as unknown;
  } catch {
    return null;
  }
}, z.array(z.enum(FILE_ROLES)).max(MAX_FILES));

/**
 * Reads the files of a multipart upload, refusing before anything is held when the request says it is over the limit,
 * and stopping as soon as what came is over it. A field `roles` says what each file is.
 */
export function receiveFiles(request: Request, limitBytes: number): Promise<DeliveryFile[]> {
  const tooLarge = (): UserError => new UserError(`The upload is over ${Math.round(limitBytes / 1048576)} MB.`, "upload", "Send the character without its scene, or raise YXOMORPH_MAX_UPLOAD_MB.");
  if (Number(request.headers["content-length"] ?? 0) > limitBytes + 1_000_000) return Promise.reject(tooLarge());
  return new Promise((resolve, reject) => {
    let parser: ReturnType<typeof busboy>;
    try {
      parser = busboy({ headers: request.headers, defParamCharset: "utf8", limits: { files: MAX_FILES, fields: 10 } });
    } catch {
      reject(new UserError("This is not a file upload.", "upload", "Drop files onto the page."));
      return;
    }
    const files: DeliveryFile[] = [];
    let roles: FileRole[] = [];
    let total = 0;
    const stop = (error: UserError): void => {
      request.unpipe(parser);
      request.resume();
      reject(error);
    };
    parser.on("file", (_field, stream, info) => {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => {
        total += chunk.length;
        if (total > limitBytes) stop(tooLarge());
        else chunks.push(chunk);
      });
      stream.on("end", () => files.push({ name: (info.filename ?? "file").slice(0, 300), bytes: new Uint8Array(Buffer.concat(chunks)) }));
    });
    parser.on("field", (name, value) => {
      if (name !== "roles") return;
      const read = rolesSchema.safeParse(value);
      if (read.success) roles = read.data;
      else stop(new UserError("The list of what each file is could not be read.", "upload", "Reload the page and drop the files again."));
    });
    parser.on("filesLimit", () => stop(new UserError(`More than ${MAX_FILES} files came.`, "upload", "Drop fewer at a time.")));
    parser.on("error", () => stop(new UserError("The upload broke off.", "upload", "Try again.")));
    parser.on("close", () => resolve(files.map((f, i) => (roles[i] ? { ...f, role: roles[i] } : f))));
    request.pipe(parser);
  });
}
