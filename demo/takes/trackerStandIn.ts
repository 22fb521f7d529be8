import { WebSocketServer, type WebSocket } from "ws";
import { receiverMessageSchema, type SenderMessage } from "../../core/tracking/frame";
import { TAKES, type Take } from "./takes";

export interface StandIn {
  readonly port: number;
  readonly close: () => Promise<void>;
}

/**
 * Plays takes over the tracking protocol (core/tracking/frame.ts) on loopback, at their own rate, with their noise,
 * dropouts and late packets.
 * Speed 1 is real time. Messages that are not of the protocol close the connection with the reason.
 */
export function startStandIn({
  port = 0,
  take = TAKES[0]!.hello.take,
  speed = 1,
}: { port?: number; take?: string; speed?: number } = {}): Promise<StandIn> {
  const first = takeNamed(take);
  const server = new WebSocketServer({ host: "127.0.0.1", port, maxPayload: 64 * 1024 });
  server.on("connection", (socket) => serve(socket, first, speed));
  return new Promise((resolve, reject) => {
    server.on("error", reject);
    server.on("listening", () => {
      const address = server.address();
      resolve({
        port: typeof address === "object" && address ? address.port : port,
        close: () =>
          new Promise((done) => {
            for (const client of server.clients) client.terminate();
            server.close(() => done());
          }),
      });
    });
  });
}

function takeNamed(name: string): Take {
  const take = TAKES.find((t) => t.hello.take === name);
  if (!take) throw new Error(`There is no take "${name}"; there are ${TAKES.map((t) => t.hello.take).join(", ")}.`);
  return take;
}

const INVALID_MESSAGE = 1007;

function serve(socket: WebSocket, first: Take, speed: number): void {
  let take = first;
  let next = 0;
  let timer: NodeJS.Timeout | null = null;
  // frames keep their time: each is due by the clock, not so long after the one before
  let began = { at: performance.now(), frame: 0 };
  const send = (message: SenderMessage): void =>
    void (socket.readyState === socket.OPEN && socket.send(JSON.stringify(message)));
  const stop = (): void => void (timer && clearTimeout(timer));
  const step = (): void => {
    const frame = take.frames[next];
    if (!frame) return send({ type: "end", frames: take.frames.length });
    const delay = take.delays[next]!;
    if (delay > 0) setTimeout(() => send(frame), (1000 * delay) / speed);
    else send(frame);
    next++;
    const due = began.at + (1000 * (next - began.frame)) / take.hello.rate / speed;
    timer = setTimeout(step, Math.max(0, due - performance.now()));
  };
  send(take.hello);
  timer = setTimeout(step, 0);
  socket.on("close", stop);
  socket.on("message", (data) => {
    const parsed = receiverMessageSchema.safeParse(readJson(String(data)));
    if (!parsed.success) return socket.close(INVALID_MESSAGE, "not a message of the tracking protocol");
    stop();
    if (parsed.data.type === "seek")
      next = Math.min(take.frames.length, Math.round(parsed.data.time * take.hello.rate));
    if (parsed.data.type === "play" && parsed.data.take !== undefined) {
      const wanted = TAKES.find((t) => t.hello.take === (parsed.data as { take?: string }).take);
      if (!wanted) return socket.close(INVALID_MESSAGE, "no such take");
      take = wanted;
      next = 0;
      send(take.hello);
    }
    began = { at: performance.now(), frame: next };
    if (parsed.data.type !== "pause") timer = setTimeout(step, 0);
  });
}

function readJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
