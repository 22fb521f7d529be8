// A thread starts without the TypeScript loader of its parent: it registers its own, then waits for jobs.
import { register } from "tsx/esm/api";

register();
await import("./jobs.thread.ts");
