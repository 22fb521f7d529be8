/** An error meant for people: what is wrong, where, and what to do about it. Anything else thrown is a bug. */
export class UserError extends Error {
  constructor(
    readonly what: string,
    readonly where = "",
    readonly todo = "",
  ) {
    super([where && `${where}:`, what, todo].filter(Boolean).join(" "));
    this.name = "UserError";
  }
}

export const isUserError = (error: unknown): error is UserError => error instanceof Error && error.name === "UserError";
/** Makes a long or odd name safe to print in a sentence. */
export const shortName = (name: string, length = 60): string => {
  const clean = name.replace(/[\p{Cc}\p{Surrogate}]+/gu, " ");
  return clean.length > length ? `${clean.slice(0, length)}… (${clean.length} characters)` : clean;
};
