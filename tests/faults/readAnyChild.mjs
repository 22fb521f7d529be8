// Reads files that its parent sends, one after the other, so that one that brings it down brings down nothing else.
import { register } from "tsx/esm/api";

register();
const { outcomeOf } = await import("./readAny.ts");
process.on("message", (seed) => void outcomeOf(seed).then((outcome) => process.send(outcome)));
process.on("disconnect", () => process.exit(0));
process.send({ kind: "ready" });
