import { reactRouter } from "@react-router/dev/vite";
import { readdirSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { defineConfig, runnerImport, type Plugin } from "vite";

const folder = (name: string): string => fileURLToPath(new URL(`./${name}`, import.meta.url));

/** Writes beside the built files which of them a page starts or fetches first (`app/earlyScript.ts`). */
const earlyWorkers: Plugin = {
  name: "early workers",
  apply: "build",
  applyToEnvironment: ({ name }) => name === "client",
  writeBundle({ dir }) {
    const files = readdirSync(`${dir}/assets`);
    const file = (name: string): string => {
      const found = files.find((f) => f.startsWith(`${name}-`) && f.endsWith(".js"));
      if (!found) throw new Error(`no worker ${name} was built`);
      return `/assets/${found}`;
    };
    const early = { pictures: file("pictures.worker"), replay: file("replay.web"), stage: file("Stage") };
    writeFileSync(`${dir}/earlyWorkers.json`, JSON.stringify(early));
  },
};

/** Modules of plain values that a page holds as they come out at build, without the code that makes them. */
const VALUES = [folder("core/checks/checkFacts.ts")];
const valuesAtBuild: Plugin = {
  name: "values at build",
  applyToEnvironment: ({ name }) => name === "client",
  async load(id) {
    if (!VALUES.includes(id)) return null;
    const { module, dependencies } = await runnerImport<Record<string, unknown>>(id, { configFile: false });
    for (const file of dependencies) this.addWatchFile(folder(file));
    const lines = Object.entries(module).map(([name, value]) => `export const ${name} = ${JSON.stringify(value)};`);
    return lines.join("\n");
  },
};

export default defineConfig({
  plugins: [reactRouter(), earlyWorkers, valuesAtBuild],
  resolve: {
    alias: {
      "~core": folder("core"),
      "~jobs": folder("jobs"),
      "~workers": folder("workers"),
      "~server": folder("server"),
    },
  },
  worker: { format: "es" },
  optimizeDeps: { entries: ["app/**/*.{ts,tsx}", "workers/**/*.ts"] },
  build: {
    chunkSizeWarningLimit: 1500,
    // a page fetches a few dozen files, not a hundred
    rollupOptions: { output: { experimentalMinChunkSize: 30_000 } },
  },
});
