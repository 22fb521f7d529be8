import { reactRouter } from "@react-router/dev/vite";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";

const folder = (name: string): string => fileURLToPath(new URL(`./${name}`, import.meta.url));

export default defineConfig({
  plugins: [reactRouter()],
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
  build: { chunkSizeWarningLimit: 1500 },
});
