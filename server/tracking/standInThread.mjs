// The thread starts without the TypeScript loader of its parent: it registers its own, then plays its takes.
import { register } from "tsx/esm/api";

register();
await import("./standInThread.ts");
