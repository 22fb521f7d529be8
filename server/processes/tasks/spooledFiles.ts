import { readFile } from "node:fs/promises";
import type { DeliveryFile } from "../../../core/intake/readDelivery";
import type { FileRole } from "../../../core/formats/fileRoles";
import { sha256 } from "../../blobs/blobStore";

/** An uploaded file as it waits in the spool. */
export interface SpooledFile {
  readonly name: string;
  readonly path: string;
  readonly role?: FileRole;
}

export const readSpooled = (files: readonly SpooledFile[]): Promise<DeliveryFile[]> =>
  Promise.all(
    files.map(async ({ name, path, role }): Promise<DeliveryFile> => {
      const bytes = await readFile(path);
      return { name, bytes: new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length), ...(role ? { role } : {}) };
    }),
  );

/** One hash for files that came together, whatever their order. */
export const hashOfFiles = (files: readonly DeliveryFile[]): string =>
  sha256(
    files
      .map((f) => sha256(f.bytes))
      .sort()
      .join(),
  );
