import type { ReceiverMessage, SenderMessage } from "~core/tracking/frame";
import { tube } from "../../../tests/helpers/characters";
import { makeLoaded } from "../loaded";
import { makeSession, setLoaded } from "../session";
import { START_VIEW } from "../urlState";
import { LiveFace } from "./liveFace";

/** The other end of the page's connection. */
class Sender {
  static readonly OPEN = 1;
  static last: Sender;
  readonly readyState = 1;
  readonly asked: ReceiverMessage[] = [];
  onmessage: ((e: { data: string }) => void) | null = null;
  onclose: (() => void) | null = null;
  constructor() {
    Sender.last = this;
  }
  send(text: string): void {
    this.asked.push(JSON.parse(text) as ReceiverMessage);
  }
  close(): void {}
  says(message: SenderMessage): void {
    this.onmessage?.({ data: JSON.stringify(message) });
  }
}

const real = { window: globalThis.window, WebSocket: globalThis.WebSocket };
beforeAll(() => {
  const page = { setInterval: () => 1, clearInterval: () => {}, clearTimeout: () => {}, removeEventListener: () => {} };
  Object.assign(globalThis, { window: page, WebSocket: Sender });
});
afterAll(() => void Object.assign(globalThis, real));

const hello = (take: string): SenderMessage => ({
  type: "hello",
  version: 1,
  source: "stand-in",
  take,
  rate: 60,
  seconds: 5,
  channels: ["smile"],
  takes: ["first", "second"],
});
const END: SenderMessage = { type: "end", frames: 300 };

function connected(): { face: LiveFace; sender: Sender } {
  const store = makeSession(START_VIEW);
  setLoaded(store, makeLoaded(tube(), "", null));
  const face = new LiveFace(store);
  face.connect("ws://127.0.0.1:1");
  Sender.last.says(hello("first"));
  return { face, sender: Sender.last };
}

describe("the takes of a tracker", () => {
  it("are asked for again when they end", () => {
    const { sender } = connected();
    sender.says(END);
    expect(sender.asked).toEqual([{ type: "play", take: "first" }]);
  });
  it("do not come back when another was chosen while their end was on its way", () => {
    const { face, sender } = connected();
    face.send({ type: "play", take: "second" });
    sender.says(END);
    expect(sender.asked.at(-1)).toEqual({ type: "play", take: "second" });
    sender.says(hello("second"));
    sender.says(END);
    expect(sender.asked.at(-1)).toEqual({ type: "play", take: "second" });
    face.send({ type: "play", take: "first" });
    sender.says(hello("first"));
    sender.says(END);
    expect(sender.asked.at(-1)).toEqual({ type: "play", take: "first" });
  });
});
