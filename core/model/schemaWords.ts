import type { z } from "zod";

const KIND: Readonly<Record<string, string>> = {
  string: "text",
  number: "a number",
  int: "a whole number",
  boolean: "true or false",
  array: "a list",
  object: "an object",
  record: "an object",
  tuple: "a list",
  null: "nothing",
  undefined: "nothing",
  nan: "a number",
  nonoptional: "something",
};
const sizeWords = (issue: { minimum?: unknown; maximum?: unknown }): string =>
  issue.minimum !== undefined
    ? `at least ${String(issue.minimum)} is needed`
    : `at most ${String(issue.maximum)} is allowed`;

/** What of a value does not fit a schema, in plain words, and where: the first place that was found. */
export function schemaFault(error: z.ZodError, top = "at its top"): { readonly what: string; readonly where: string } {
  const issue = error.issues[0] as
    | (z.core.$ZodIssue & { expected?: string; values?: readonly unknown[]; minimum?: unknown; maximum?: unknown })
    | undefined;
  const where = issue?.path.map(String).join(".").slice(0, 200) || top;
  if (!issue) return { what: "something does not fit", where };
  if (issue.code === "invalid_type")
    return { what: `${KIND[issue.expected ?? ""] ?? issue.expected} is needed`, where };
  if (issue.code === "invalid_value")
    return {
      what: `it is none of ${(issue.values ?? []).slice(0, 6).map(String).join(", ")}${(issue.values?.length ?? 0) > 6 ? " and so on" : ""}`,
      where,
    };
  if (issue.code === "invalid_union") return { what: "it is none of the kinds that are known", where };
  if (issue.code === "too_small" || issue.code === "too_big") return { what: sizeWords(issue), where };
  if (issue.code === "unrecognized_keys") return { what: "it holds something that is not known", where };
  if (issue.code === "custom" && !/^Invalid/.test(issue.message)) return { what: `it is ${issue.message}`, where };
  return { what: "it is not of the form that is needed", where };
}
