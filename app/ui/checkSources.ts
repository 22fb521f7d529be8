import { CHECKS } from "~core/checks/runChecks";

/** Where each check's limit comes from, for the opened finding. */
export const CHECK_SOURCES: Readonly<Record<string, string>> = Object.fromEntries(CHECKS.map((c) => [c.id, c.source]));
