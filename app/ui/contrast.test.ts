import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import type { Theme } from "@mui/material/styles";
import { theme } from "./theme";

/** WCAG 2.2, success criterion 1.4.3: text against what lies behind it, at least 4.5 to 1. */
const LEAST = 4.5;
const HERE = path.join("app", "ui");

const channel = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
type Rgb = readonly [number, number, number];
const rgbOf = (hex: string): Rgb => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255) as unknown as Rgb;
/** Relative luminance, as WCAG 2.2 defines it. */
const luminance = (colour: Rgb): number => {
  const [r, g, b] = colour.map(channel) as unknown as Rgb;
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};
const contrast = (a: Rgb, b: Rgb): number => {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number];
  return (x + 0.05) / (y + 0.05);
};
/** Colours mixed in sRGB, as `color-mix(in srgb, ...)` does. */
const mixed = (over: Rgb, share: number, under: Rgb): Rgb =>
  over.map((c, k) => share * c + (1 - share) * under[k]!) as unknown as Rgb;

const schemes = (["light", "dark"] as const).map((name) => {
  const { palette } = (theme as unknown as { colorSchemes: Record<string, Pick<Theme, "palette">> }).colorSchemes[
    name
  ]!;
  const colours: Readonly<Record<string, string>> = {
    paper: palette.background.default,
    surface: palette.background.paper,
    paper2: palette.paper2,
    ink: palette.text.primary,
    muted: palette.text.secondary,
    accent: palette.primary.main,
    amber: palette.warning.main,
    brick: palette.error.main,
    "on accent": palette.primary.contrastText,
  };
  return { name, of: (colour: string): Rgb => rgbOf(colours[colour]!) };
});

describe.each(schemes)("contrast of the $name scheme", ({ of }) => {
  it("knows the examples of the standard: black on white is 21, #767676 on white 4.54 (WCAG 2.2, G18)", () => {
    expect(contrast(rgbOf("#000000"), rgbOf("#ffffff"))).toBeCloseTo(21, 9);
    expect(contrast(rgbOf("#767676"), rgbOf("#ffffff"))).toBeCloseTo(4.54, 2);
  });

  it.each(
    ["ink", "muted", "accent", "amber", "brick"].flatMap((text) =>
      ["paper", "surface", "paper2"].map((behind) => [text, behind] as const),
    ),
  )("%s on %s", (text, behind) => {
    expect(contrast(of(text), of(behind))).toBeGreaterThanOrEqual(LEAST);
  });

  it("words on a filled button", () => {
    expect(contrast(of("on accent"), of("accent"))).toBeGreaterThanOrEqual(LEAST);
  });

  it.each(["ink", "muted"])("%s in a row that is chosen, a tenth of the accent over paper or surface", (text) => {
    for (const under of ["paper", "surface"])
      expect(contrast(of(text), mixed(of("accent"), 0.1, of(under)))).toBeGreaterThanOrEqual(LEAST);
  });
});

it("no style sheet writes words in a colour of its own, past the scheme's", () => {
  const sheets = readdirSync(HERE).filter((f) => f.endsWith(".css"));
  const strange = sheets.flatMap((file) =>
    [...readFileSync(path.join(HERE, file), "utf8").matchAll(/(?:^|[\s;{])color:\s*([^;]+);/g)]
      .map((m) => m[1]!.trim())
      .filter(
        (value) =>
          !/^(var\(--(ink|muted|accent|amber|brick|paper|surface)\)|inherit|currentcolor|var\(--mui-palette-primary-contrastText\))$/i.test(
            value,
          ),
      )
      .map((value) => `${file}: ${value}`),
  );
  expect(sheets.length).toBeGreaterThan(0);
  expect(strange).toEqual([]);
});
