import { RealServer } from "../../tests/helpers/realServer";
import { sayLine } from "../../voice/sayLine";
import { emptyTrial } from "../../core/trials/trial";
import { linePiece } from "../../core/trials/linePiece";
import { collectBlobs } from "../blobs/collectBlobs";
import { sounds } from "../db/schema";
import { tube } from "../../tests/helpers/characters";
import { writeGlb } from "../../core/formats/glb/writeGlb";

const real = new RealServer();
beforeAll(() => real.start({ uploadLimitMb: 4 }));
afterAll(() => real.stop());

interface Made {
  readonly line: { seconds: number; words: { text: string; guess?: boolean }[]; phones: { phone: string }[] };
  readonly sound: string;
  readonly notes: string[];
  readonly distance?: number;
}
const url = (path: string): string => `${real.base}/api/speech/${path}`;
const json = (body: unknown, method = "POST"): RequestInit => ({
  method,
  headers: { "Content-Type": "application/json" },
  body: JSON.stringify(body),
});
const say = async (body: unknown): Promise<{ status: number; made: Made; error: string }> => {
  const answer = await fetch(url("lines"), json(body));
  const made = (await answer.json()) as Made & { error?: { what: string } };
  return { status: answer.status, made, error: made.error?.what ?? "" };
};
const soundOf = async (hash: string): Promise<Uint8Array> =>
  new Uint8Array(await (await fetch(`${real.base}/api/blobs/${hash}`)).arrayBuffer());

describe("lines by the server", () => {
  it("come with words, phones and a sound that can be fetched; the same text is the same sound", async () => {
    const [a, b] = [await say({ text: "Mind the gap" }), await say({ text: "Mind the gap" })];
    expect(a.made.line.words.map((w) => w.text)).toEqual(["Mind", "the", "gap"]);
    expect(b.made.sound).toBe(a.made.sound);
    const wav = await soundOf(a.made.sound);
    expect(new TextDecoder().decode(wav.subarray(0, 4))).toBe("RIFF");
  });
  it("are refused in words where nothing can be said, or by a voice that is not there", async () => {
    expect(await say({ text: " " })).toMatchObject({ status: 422, error: "Nothing is said." });
    expect((await say({ text: "hello", voice: "nobody" })).status).toBe(422);
    expect((await say({ text: "ferry ".repeat(5000) })).status).toBe(422);
  });
  it("say a word as it was told, from then on; and as the dictionary has it once that is let go", async () => {
    const phones = async (): Promise<string> =>
      (await say({ text: "blorfs" })).made.line.phones.map((p) => p.phone).join(" ");
    expect((await say({ text: "blorfs" })).made.line.words[0]!.guess).toBe(true);
    expect((await fetch(url("words/blorfs"), json({ phones: "b l uw1 m" }, "PUT"))).status).toBe(200);
    expect(await phones()).toContain("B L UW M");
    const known = (await (await fetch(url("words/blorfs"))).json()) as { ways: string[]; own: string };
    expect(known).toEqual({ ways: [], own: "B L UW1 M" });
    expect((await fetch(url("words/blorfs"), json({ phones: "b q" }, "PUT"))).status).toBe(422);
    expect((await fetch(url("words/two%20words"), json({ phones: "b" }, "PUT"))).status).toBe(422);
    await fetch(url("words/blorfs"), { method: "DELETE" });
    expect(await phones()).not.toContain("B L UW M");
    const ferry = (await (await fetch(url("words/ferry"))).json()) as { ways: string[] };
    expect(ferry.ways).toEqual(["F EH1 R IY0"]);
  });
});

describe("recordings by the server", () => {
  it("have their phones found, and keep their own bytes", async () => {
    const { wav } = await sayLine("Mind the wet planks", "tenor");
    const query = new URLSearchParams({ text: "Mind the wet planks", file: "take 1.wav" });
    const answer = await fetch(url(`recordings?${query.toString()}`), { method: "POST", body: Buffer.from(wav) });
    const made = (await answer.json()) as Made;
    expect(made.distance).toBeLessThan(0.93);
    expect(made.line.words.map((w) => w.text)).toEqual(["Mind", "the", "wet", "planks"]);
    expect(await soundOf(made.sound)).toEqual(new Uint8Array(wav));
  });
  it("that are none are refused by their name, with or without a text", async () => {
    for (const path of ["recordings?text=hello&file=odd.wav", "sounds?file=odd.wav"]) {
      const answer = await fetch(url(path), { method: "POST", body: Buffer.from("nothing of the kind") });
      const { error } = (await answer.json()) as { error: { what: string; where: string } };
      expect([answer.status, error.where, error.what]).toEqual([422, "odd.wav", "This is not a WAV file."]);
    }
  });
});

describe("sounds", () => {
  it("stay while a trial names them, and go once none does and two days have passed", async () => {
    const id = await real.takeIn(["limb.glb", await writeGlb({ ...tube(), name: "Limb" })]);
    const [named, loose] = [(await say({ text: "Welcome" })).made, (await say({ text: "Goodbye now" })).made];
    const piece = linePiece(named.line as never, { said: null, sound: named.sound }, 0, "line");
    const trial = emptyTrial("said");
    const spoken = { ...trial, lanes: { ...trial.lanes, speech: [piece] } };
    const kept = await fetch(
      `${real.base}/api/characters/${id}/arrangements/said-1`,
      json({ trial: spoken, revision: 0 }, "PUT"),
    );
    expect(kept.status).toBe(200);
    await collectBlobs(real.db);
    expect((await fetch(`${real.base}/api/blobs/${loose.sound}`)).status).toBe(200);
    await real.db.update(sounds).set({ seenAt: new Date(Date.now() - 3 * 86_400_000) });
    await collectBlobs(real.db);
    expect((await fetch(`${real.base}/api/blobs/${loose.sound}`)).status).toBe(404);
    expect((await fetch(`${real.base}/api/blobs/${named.sound}`)).status).toBe(200);
    // let go, it can still be taken back for two days
    await fetch(`${real.base}/api/characters/${id}/arrangements/said-1`, { method: "DELETE" });
    await collectBlobs(real.db);
    expect((await fetch(`${real.base}/api/blobs/${named.sound}`)).status).toBe(200);
  });
});
