import { shortName, UserError } from "../../model/userError";
import { decodeText } from "../decodeText";

/** One caption: when it stands, seconds, and what it says, without its marks. */
export interface Caption {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

const MOST = 2000;
/** WebVTT writes a point before the thousandths and may leave the hours out, SubRip a comma. */
const TIMES = /^\s*((?:\d+:)?\d{1,2}:\d{2}[.,]\d{1,3})\s*-->\s*((?:\d+:)?\d{1,2}:\d{2}[.,]\d{1,3})/;

function secondsOf(text: string): number {
  const parts = text.replace(",", ".").split(":").map(Number);
  return parts.reduce((sum, p) => 60 * sum + p, 0);
}

/** What a caption says: voices, styles, markup, sounds in brackets and names before a colon are let go. */
const plain = (lines: readonly string[]): string =>
  lines
    .join(" ")
    .replace(/<[^>]*>|\{\\[^}]*\}/g, "")
    .replace(/&amp;/g, "&")
    .replace(/&nbsp;|&lrm;|&rlm;/g, " ")
    .replace(/&lt;|&gt;/g, " ")
    .replace(/\[[^\]]*\]|\([^)]*\)/g, " ")
    .replace(/(^|\s)-\s+/g, " ")
    .replace(/^\s*[A-Z][A-Z .]+:\s/, "")
    .replace(/\s+/g, " ")
    .trim();

/**
 * Captions of a WebVTT (W3C, "WebVTT: The Web Video Text Tracks Format") or SubRip file, in order of time.
 * @throws UserError for a file without captions, or with one that ends before it begins.
 */
export function readCaptions(bytes: Uint8Array, file: string): Caption[] {
  const blocks = decodeText(bytes)
    .replace(/\r\n?/g, "\n")
    .split(/\n{2,}/);
  const out: Caption[] = [];
  for (const block of blocks) {
    const lines = block.split("\n");
    if (/^(NOTE|STYLE|REGION)\b/.test(lines[0] ?? "")) continue;
    const at = lines.findIndex((l) => l.includes("-->"));
    if (at < 0) continue;
    const found = TIMES.exec(lines[at]!);
    if (!found)
      throw new UserError(
        `"${shortName(lines[at]!.trim())}" holds no two times.`,
        file,
        "Write 00:00:01.000 --> 00:00:03.500.",
      );
    const [from, to] = [secondsOf(found[1]!), secondsOf(found[2]!)];
    if (to <= from)
      throw new UserError(`The caption at ${from.toFixed(2)} s ends before it begins.`, file, "Set its times right.");
    const text = plain(lines.slice(at + 1));
    if (text) out.push({ from, to, text });
    if (out.length > MOST)
      throw new UserError(`It holds over ${MOST} captions.`, file, "Cut it into files of a scene each.");
  }
  if (out.length === 0) throw new UserError("There are no captions in it.", file, "Give a WebVTT or SubRip file.");
  return out.sort((a, b) => a.from - b.from);
}
