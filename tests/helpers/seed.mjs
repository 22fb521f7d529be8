import fc from "fast-check";
import { register } from "tsx/esm/api";

// the threads that run tests read TypeScript by tsx too
register();

/** The same random cases in every run; FC_SEED tries others. */
fc.configureGlobal({ seed: Number(process.env["FC_SEED"] ?? 20260) });
