import { z } from "zod";
import { schemaFault } from "../model/schemaWords";
import { parseJsonText } from "../model/parseJsonText";
import { UserError } from "../model/userError";
import { deliveryNamesSchema } from "../intake/relinkNames";
import { stepSchema } from "./steps";

/**
 * A ledger as a file: the steps in force, the names of the delivery they were made on, and the geometry they carry
 * (docs/formats.md).
 */
export const ledgerFileSchema = z.object({
  format: z.literal("yxomorph ledger"),
  version: z.literal(1),
  character: z.string(),
  names: deliveryNamesSchema,
  steps: z.array(stepSchema),
  /** Geometry by sha256, base64. */
  blobs: z.record(z.string().regex(/^[0-9a-f]{64}$/), z.string()),
});
export type LedgerFile = z.infer<typeof ledgerFileSchema>;

/** Reads a ledger file. @throws UserError that says where it departs from the form. */
export function readLedgerFile(text: string, file: string): LedgerFile {
  const read = ledgerFileSchema.safeParse(
    parseJsonText(text, file, "This is not JSON.", "Save the ledger again at Hand-off."),
  );
  if (read.success) return read.data;
  const { what, where } = schemaFault(read.error);
  throw new UserError(`This is not a ledger: ${what}.`, `${file}, ${where}`, "Save the ledger again at Hand-off.");
}
