import type { z } from "zod";
import { cleanText } from "../core/model/cleanName";
import { schemaFault } from "../core/model/schemaWords";
import { UserError } from "../core/model/userError";
import { notThere } from "./refusals";

/** What came, as the schema has it. @throws UserError that names the first place that does not fit. */
export function parsed<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const { what, where } = schemaFault(result.error, "the request");
  throw new UserError(`The request does not fit: ${what} (${where}).`, "", "Reload the page.");
}

const brokenText = (text: string): boolean => cleanText(text) !== text;

/** A value none of whose texts, keys included, holds what the database cannot keep. @throws UserError otherwise. */
export function sound<T>(value: T): T {
  const look = (v: unknown): boolean => {
    if (typeof v === "string") return brokenText(v);
    if (typeof v !== "object" || v === null || ArrayBuffer.isView(v)) return false;
    if (Array.isArray(v)) return v.some(look);
    return Object.entries(v).some(([k, x]) => brokenText(k) || look(x));
  };
  if (look(value))
    throw new UserError(
      "A name or text holds a character that is none (NUL, or half of a surrogate pair).",
      "",
      "Type it anew.",
    );
  return value;
}

/** Id of a character as an address holds it. @throws Refused 404 for one that no character can have. */
export function characterId(given: unknown): string {
  const id = String(given);
  if (id.length > 100 || !/^[\w-]+$/.test(id)) throw notThere();
  return id;
}

/** Number of a row as an address holds it. @throws Refused 404 for what is none. */
export function rowId(given: unknown, what: string): number {
  const text = String(given);
  const id = /^\d{1,10}$/.test(text) ? Number(text) : NaN;
  if (!(id > 0 && id <= 2_147_483_647)) throw notThere(what);
  return id;
}
