#!/usr/bin/env node
import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";
import path from "node:path";

const root = path.join(path.dirname(fileURLToPath(import.meta.url)), "..");
if (!existsSync(path.join(root, "node_modules", "tsx"))) {
  process.stderr.write(
    "yxomorph: packages are not installed; run npm start or npm test once in the project's folder.\n",
  );
  process.exit(2);
}
const { register } = await import("tsx/esm/api");
register();
const { main } = await import("./main.ts");
await main(process.argv);
