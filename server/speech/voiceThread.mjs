// The thread starts without the TypeScript loader of its parent: it registers its own, then waits for lines.
import { register } from "tsx/esm/api";

register();
await import("./voiceThread.ts");
