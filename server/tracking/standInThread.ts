import { parentPort, workerData } from "node:worker_threads";
import { startStandIn } from "../../demo/takes/trackerStandIn";

/** Plays the demo's takes beside the server, on the port that is asked for or on a free one. */
const { port } = workerData as { port: number };
const standIn = await startStandIn({ port }).catch(() => startStandIn({ port: 0 }));
parentPort!.postMessage({ port: standIn.port });
// the socket alone keeps the thread
