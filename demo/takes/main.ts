import { parseArgs } from "node:util";
import { startStandIn } from "./trackerStandIn";
import { TAKES } from "./takes";

const { values } = parseArgs({
  options: {
    port: { type: "string", default: "4190" },
    take: { type: "string", default: TAKES[0]!.hello.take },
    speed: { type: "string", default: "1" },
  },
});
try {
  const standIn = await startStandIn({ port: Number(values.port), take: values.take, speed: Number(values.speed) });
  process.stdout.write(
    `Tracker stand-in on ws://127.0.0.1:${standIn.port}, take ` +
      `"${values.take}". Takes: ${TAKES.map((t) => t.hello.take).join(", ")}.\n`,
  );
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 2;
}
