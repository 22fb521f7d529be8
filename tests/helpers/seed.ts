import fc from "fast-check";

/** The same random cases in every run; FC_SEED tries others. */
fc.configureGlobal({ seed: Number(process.env["FC_SEED"] ?? 20260) });
