// A child process starts without the TypeScript loader of its parent: it registers its own, then waits for tasks.
import { register } from "tsx/esm/api";

register();
await import("./child.ts");
