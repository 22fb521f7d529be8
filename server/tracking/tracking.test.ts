import WebSocket from "ws";
import { channelMapSchema } from "../../core/tracking/channelMap";
import { emptyTrial, pieceSchema } from "../../core/trials/trial";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { tube } from "../../tests/helpers/characters";
import { RealServer } from "../../tests/helpers/realServer";
import { collectBlobs } from "../blobs/collectBlobs";
import { arrangements, sounds } from "../db/schema";
import { listArrangements } from "../services/arrangements";
import { startStandInThread, type RunningStandIn } from "./standIn";

const real = new RealServer();
let standIn: RunningStandIn | null = null;
beforeAll(async () => {
  standIn = await startStandInThread(0);
  await real.start({ standIn: standIn!.address });
});
afterAll(async () => {
  await standIn?.close();
  await real.stop();
});

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { "Content-Type": "application/json" },
  body: JSON.stringify(body),
});
const policy = async (): Promise<string> =>
  /connect-src ([^;]*)/.exec(
    (await fetch(`${real.base}/api/tracking/bridge`)).headers.get("content-security-policy")!,
  )![1]!;

describe("the tracker beside the server", () => {
  it("is the stand-in, which pages may connect to, and nothing else", async () => {
    const { body } = await real.ask<{ address: string; named: null }>("/api/tracking/bridge");
    expect(body).toEqual({ address: standIn!.address, named: null, standIn: standIn!.address });
    expect((await policy()).trim()).toBe(`'self' ${standIn!.address}`);
  });
  it("sends its takes, on a thread of its own", async () => {
    const first = await new Promise<string>((resolve, reject) => {
      const socket = new WebSocket(standIn!.address);
      socket.on("error", reject);
      socket.on("message", (data) => {
        resolve(String(data as Buffer));
        socket.close();
      });
    });
    expect(JSON.parse(first)).toMatchObject({ type: "hello", take: "greeting" });
  });
  it("can be another, whose address is kept and allowed; what is none is refused", async () => {
    for (const wrong of [
      "",
      "http://127.0.0.1:4190",
      "127.0.0.1",
      "ws://a b",
      "ws://x'; script-src *",
      "ws://me:word@host:1",
    ])
      expect((await real.ask("/api/tracking/bridge", json("PUT", { address: wrong }))).status).toBe(422);
    const set = await real.ask<{ named: string }>(
      "/api/tracking/bridge",
      json("PUT", { address: " ws://bridge.local:5000/face " }),
    );
    expect(set.body.named).toBe("ws://bridge.local:5000/face");
    expect(await policy()).toContain("ws://bridge.local:5000");
    expect(await policy()).not.toContain("/face");
    await real.ask("/api/tracking/bridge", json("PUT", { address: null }));
    expect(await policy()).not.toContain("bridge.local");
  });
});

describe("maps of channels", () => {
  const map = channelMapSchema.parse({
    channels: [{ channel: "grin L", shapes: [{ shape: "AU12_left", gain: 1.2 }] }],
  });
  it("are kept by name, changed, listed with the latest first, and let go", async () => {
    for (const name of ["harbour", "my tracker"])
      expect((await real.ask(`/api/tracking/maps/${encodeURIComponent(name)}`, json("PUT", map))).status).toBe(200);
    await real.ask("/api/tracking/maps/harbour", json("PUT", { ...map, channels: [] }));
    const { body } = await real.ask<{ maps: { name: string; map: typeof map }[] }>("/api/tracking/maps");
    expect(body.maps.map((m) => m.name)).toEqual(["harbour", "my tracker"]);
    expect(body.maps[1]!.map).toEqual(map);
    await real.ask("/api/tracking/maps/harbour", { method: "DELETE" });
    expect((await real.ask<typeof body>("/api/tracking/maps")).body.maps).toHaveLength(1);
  });
  it("are refused where they are none", async () => {
    const wrong = { channels: [{ channel: "a", shapes: [{ shape: "b", gain: "much" }] }] };
    expect((await real.ask("/api/tracking/maps/x", json("PUT", wrong))).status).toBe(422);
    expect((await real.ask("/api/tracking/maps/%20", json("PUT", map))).status).toBe(422);
  });
});

describe("trials that were kept by an earlier version", () => {
  it("are listed with what they lack filled in", async () => {
    const id = await real.takeIn(["stalk.glb", await writeGlb({ ...tube(), name: "Stalk" })]);
    const line = { seconds: 1, words: [], phones: [{ phone: "AA", from: 0, to: 1, stress: 1 }] };
    const old = { kind: "line", id: "l", line, start: 0, to: 1 };
    const trial = { name: "old", lanes: { body: [], face: [], tracking: [], speech: [old] } };
    await real.db.insert(arrangements).values({ id: crypto.randomUUID(), characterId: id, trial: trial as never });
    const [listed] = (await listArrangements(real.db)).filter((a) => a.characterId === id);
    expect(listed!.trial).toMatchObject({ fps: 30, method: "linear" });
    expect(listed!.trial.lanes.speech[0]).toMatchObject({ curves: {}, hand: [], share: 1, on: true });
  });
});

describe("takes as they came", () => {
  const keep = async (text: string): Promise<string> =>
    (await real.ask<{ raw: string }>("/api/tracking/takes", { method: "POST", body: text })).body.raw;
  it("stay while a trial names them, and go once none does and two days have passed", async () => {
    const id = await real.takeIn(["limb.glb", await writeGlb({ ...tube(), name: "Limb" })]);
    const [named, loose] = [await keep("seconds,smile\n0,0\n1,1\n"), await keep("seconds,smile\n0,1\n1,0\n")];
    const face = {
      seconds: 2,
      rate: 1,
      tolerance: 0.005,
      channels: [{ channel: "smile", times: [0, 1], values: [0, 1] }],
    };
    const piece = pieceSchema.parse({
      kind: "take",
      id: "t",
      raw: named,
      face,
      map: { channels: [] },
      start: 0,
      to: 2,
    });
    const trial = emptyTrial("tracked");
    const kept = await real.ask(
      `/api/characters/${id}/arrangements/tracked-1`,
      json("PUT", { trial: { ...trial, lanes: { ...trial.lanes, tracking: [piece] } }, revision: 0 }),
    );
    expect(kept.status).toBe(200);
    await real.db.update(sounds).set({ seenAt: new Date(Date.now() - 3 * 86_400_000) });
    await collectBlobs(real.db);
    expect((await fetch(`${real.base}/api/blobs/${loose}`)).status).toBe(404);
    expect(await (await fetch(`${real.base}/api/blobs/${named}`)).text()).toBe("seconds,smile\n0,0\n1,1\n");
    // let go, it can still be taken back for two days
    await fetch(`${real.base}/api/characters/${id}/arrangements/tracked-1`, { method: "DELETE" });
    await collectBlobs(real.db);
    expect((await fetch(`${real.base}/api/blobs/${named}`)).status).toBe(200);
  });
});
