import { readFileSync, writeFileSync } from "node:fs";
import { checksDoc } from "../core/checks/checksDoc";
import { formatsTable } from "../core/formats/formats";

/** Writes the pages of docs/ that are made from the code. */
const page = (name: string): URL => new URL(`../docs/${name}.md`, import.meta.url);
writeFileSync(page("checks"), checksDoc());
const formats = readFileSync(page("formats"), "utf8");
writeFileSync(
  page("formats"),
  formats.replace(/(<!-- written from .* -->\n\n)[^]*?\n\n/, (_, mark: string) => `${mark}${formatsTable()}\n\n`),
);
