import { shapeNamed, type Character } from "~core/model/character";
import { PROFILES } from "~core/checks/checkFacts";
import { pictureOf } from "../../stage/pictures/picturesClient";
import { TILE_PIXELS } from "../../stage/pictures/tilePixels";
import { soloView, type ShapeRow } from "./shapeRows";

const { width: WIDTH, height: HEIGHT } = TILE_PIXELS;
export const GLYPH = { error: "▲", warn: "◆", note: "○" } as const;

const ids = new WeakMap<object, number>();
let count = 0;
const idOf = (of: object): number => ids.get(of) ?? ids.set(of, ++count).get(of)!;
/** One picture for each set of deltas on each base and its materials. */
const pictureKey = (character: Character, row: ShapeRow): string =>
  `shape ${idOf(row.shape.deltas as unknown as object)} on ${idOf(character.parts as unknown as object)} as ${idOf(character.materials as unknown as object)}`;

/** Picture of a shape alone at a weight, from the framing that suits it; drawn once. */
export function shapePicture(
  character: Character,
  row: ShapeRow,
  weight: number,
  wanted: () => boolean = () => true,
  order = 0,
): Promise<string | null> {
  const { moment, framing } = soloView(character, row, weight);
  return pictureOf(`${pictureKey(character, row)} ${weight}`, character, moment, framing, WIDTH, HEIGHT, wanted, order);
}

/** The same shape of another character or version, from the same side; null where it has none of the name. */
export function besidePicture(
  other: Character,
  row: ShapeRow,
  weight: number,
  wanted: () => boolean = () => true,
  order = 0,
): Promise<string | null> {
  const shape = shapeNamed(other, row.shape.name);
  return shape ? shapePicture(other, { ...row, shape }, weight, wanted, order) : Promise.resolve(null);
}

export interface ProofPicture {
  readonly row: ShapeRow;
  readonly url: string;
  /** The same shape of what it is compared with; null where there is none, absent where nothing is beside. */
  readonly beside?: string | null;
}

/** Draws every shape, and the same of another beside it; null when it was stopped. */
export async function drawAll(
  character: Character,
  other: Character | null,
  rows: readonly ShapeRow[],
  weight: number,
  progress: (share: number) => void,
  stopped: () => boolean,
): Promise<ProofPicture[] | null> {
  const wanted = (): boolean => !stopped();
  const asked = rows.map((row, i) => ({
    row,
    url: shapePicture(character, row, weight, wanted, i),
    beside: other && besidePicture(other, row, weight, wanted, i),
  }));
  // a failure is told where it is awaited; the others must not be told as unheard
  for (const { url, beside } of asked) for (const one of [url, beside]) one?.catch(() => {});
  const out: ProofPicture[] = [];
  for (const [i, { row, url, beside }] of asked.entries()) {
    progress(i / rows.length);
    const own = await url;
    if (stopped()) return null;
    if (own) out.push({ row, url: own, ...(other ? { beside: await beside } : {}) });
  }
  return out;
}

const markOf = ({ worst }: ShapeRow): string => (worst && worst !== "note" ? `${GLYPH[worst]} ` : "");
const limit = PROFILES.realtime.limits["pose.stretch"];

const COLUMNS = 8;
const GAP = 16;
const TEXT = 44;
const HEAD = 64;

/** All pictures on one sheet, with name, fault mark and stretch, as PNG. */
export async function sheetOf(pictures: readonly ProofPicture[], title: string): Promise<Blob> {
  const pair = pictures.some((p) => p.beside !== undefined);
  const [wide, most] = pair ? [2 * WIDTH + GAP / 4, COLUMNS / 2] : [WIDTH, COLUMNS];
  const columns = Math.min(most, Math.max(1, pictures.length));
  const lines = Math.ceil(pictures.length / columns);
  const canvas = document.createElement("canvas");
  canvas.width = GAP + columns * (wide + GAP);
  canvas.height = HEAD + lines * (HEIGHT + TEXT + GAP) + GAP;
  const ctx = canvas.getContext("2d")!;
  ctx.fillStyle = "#F4F2EE";
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.fillStyle = "#1C2733";
  ctx.font = "600 24px 'Atkinson Hyperlegible Next Variable', sans-serif";
  ctx.fillText(title, GAP, 40);
  for (const [i, { row, url, beside }] of pictures.entries()) {
    const [x, y] = [GAP + (i % columns) * (wide + GAP), HEAD + Math.floor(i / columns) * (HEIGHT + TEXT + GAP)];
    for (const [k, source] of [url, ...(pair ? [beside ?? null] : [])].entries()) {
      const left = x + k * (WIDTH + GAP / 4);
      ctx.fillStyle = "#E6E1D8";
      ctx.fillRect(left, y, WIDTH, HEIGHT);
      if (!source) continue;
      const image = new Image();
      image.src = source;
      await image.decode();
      ctx.drawImage(image, left, y, WIDTH, HEIGHT);
    }
    ctx.fillStyle = row.worst === "error" ? "#A8321F" : row.worst === "warn" ? "#8C5200" : "#1C2733";
    ctx.font = "15px 'Atkinson Hyperlegible Mono Variable', monospace";
    ctx.fillText(`${markOf(row)}${row.shape.name}`, x, y + HEIGHT + 18, WIDTH);
    ctx.fillStyle = "#5B6670";
    ctx.font = "13px 'Atkinson Hyperlegible Next Variable', sans-serif";
    ctx.fillText(
      [
        row.reading
          ? `stretch ${row.reading.stretch.toFixed(2)} ` +
            `×${limit !== null && row.reading.stretch > limit ? ` over ${limit}` : ""}`
          : "",
        row.findings[0]?.check ?? "",
      ]
        .filter(Boolean)
        .join(", "),
      x,
      y + HEIGHT + 37,
      WIDTH,
    );
  }
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error("the sheet is too large for a picture"))),
      "image/png",
    ),
  );
}

/** The pictures as pages in a frame of their own, handed to the browser's print dialog. */
export function printPages(pictures: readonly ProofPicture[], title: string): void {
  const frame = document.createElement("iframe");
  frame.title = title;
  frame.style.cssText = "position:fixed;right:0;bottom:0;width:0;height:0;border:0";
  document.body.append(frame);
  const doc = frame.contentDocument!;
  const style = doc.createElement("style");
  style.textContent =
    "@page{margin:12mm} body{font:11px sans-serif;color:#1C2733;margin:0} h1{font-size:16px} " +
    ".sheet{display:grid;grid-template-columns:repeat(5,1fr);gap:8px} figure{margin:0;break-inside:avoid} " +
    "img{width:100%;border:1px solid #D9D4CA} .name{font-family:monospace} .found{color:#A8321F}";
  const head = doc.createElement("h1");
  head.textContent = title;
  const sheet = doc.createElement("div");
  sheet.className = "sheet";
  const loads = pictures.flatMap(({ row, url, beside }) => {
    const figure = doc.createElement("figure");
    const shown = [url, ...(beside ? [beside] : [])].map((source) => {
      const img = doc.createElement("img");
      const loaded = new Promise<void>((resolve) => {
        img.onload = img.onerror = () => resolve();
      });
      img.src = source;
      figure.append(img);
      return loaded;
    });
    const name = doc.createElement("div");
    name.className = "name";
    name.textContent = `${markOf(row)}${row.shape.name}`;
    figure.append(name);
    for (const f of row.findings.slice(0, 2)) {
      const line = doc.createElement("div");
      line.className = "found";
      line.textContent = f.message;
      figure.append(line);
    }
    sheet.append(figure);
    return shown;
  });
  doc.head.append(style);
  doc.body.append(head, sheet);
  void Promise.all(loads).then(() => {
    frame.contentWindow!.addEventListener("afterprint", () => frame.remove());
    frame.contentWindow!.print();
  });
}
