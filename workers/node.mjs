// A worker thread starts without the TypeScript loader of its parent: it registers its own, then runs the job.
import { register } from "tsx/esm/api";

register();
await import("./node.ts");
