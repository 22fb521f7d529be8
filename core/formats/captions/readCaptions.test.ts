import { readCaptions } from "./readCaptions";

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

describe("captions", () => {
  it("are read from WebVTT: notes, styles, settings, voices and markup are let go", () => {
    // forms of W3C "WebVTT: The Web Video Text Tracks Format", sections 1 and 3
    const vtt = [
      "WEBVTT - the ferry",
      "",
      "STYLE\n::cue { color: red }",
      "",
      "NOTE a note",
      "",
      "intro\n00:01.000 --> 00:03.500 align:start\n<v Oda>Welcome <b>aboard</b> &amp; mind the gap",
      "",
      "01:00:04.000 --> 01:00:05.000\n[horn]\nNext &lt;boat&gt;",
    ].join("\n");
    expect(readCaptions(bytes(vtt), "a.vtt")).toEqual([
      { from: 1, to: 3.5, text: "Welcome aboard & mind the gap" },
      { from: 3604, to: 3605, text: "Next boat" },
    ]);
  });
  it("are read from SubRip with its commas, line ends of another system, and dashes of two speakers", () => {
    const srt =
      "\ufeff2\r\n00:00:05,250 --> 00:00:06,000\r\n- High water.\r\n- At three.\r\n\r\n1\r\n00:00:01,000 --> 00:00:02,000\r\nODA: Welcome\r\n";
    expect(readCaptions(bytes(srt), "a.srt")).toEqual([
      { from: 1, to: 2, text: "Welcome" },
      { from: 5.25, to: 6, text: "High water. At three." },
    ]);
  });
  it.each([
    ["nothing", "WEBVTT\n\n", /no captions/],
    ["times that are none", "1\n0:xx --> 00:00:02,000\nhello", /no two times/],
    ["one that ends before it begins", "00:00:03.000 --> 00:00:01.000\nhello", /ends before it begins/],
  ])("are refused: %s", (_what, text, words) => {
    expect(() => readCaptions(bytes(text), "a.vtt")).toThrow(words);
  });
});
