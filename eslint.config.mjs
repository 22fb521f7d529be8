import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** Layers from the inside out; each may use those before it and nothing after (docs/architecture.md). */
const forbid = (files, layers, packages, why) => ({
  files,
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          ...(layers.length ? [{ regex: `(^|/|~)(${layers.join("|")})/`, allowTypeImports: true, message: why }] : []),
          ...(packages.length ? [{ group: packages, message: why }] : []),
        ],
      },
    ],
  },
});
const SCREEN = ["react", "react-dom", "react-router", "@mui/*", "@react-three/*", "three", "three/*", "zustand"];
const DATA = ["pg", "drizzle-orm", "drizzle-orm/*", "express", "pino"];

export default tseslint.config(
  { ignores: ["build/", "node_modules/", ".react-router/", ".scratch/", ".cache/", "test-results/"] },
  ...tseslint.configs.recommended,
  {
    files: ["**/*.mjs", "**/*.js"],
    languageOptions: { globals: { process: "readonly", console: "readonly", URL: "readonly" } },
  },
  { files: ["app/**/*.{ts,tsx}"], ...reactHooks.configs.flat.recommended },
  // three.js objects are changed in place; that is how they are used
  { files: ["app/stage/**/*.{ts,tsx}"], rules: { "react-hooks/immutability": "off" } },
  {
    files: ["**/*.{ts,tsx}"],
    rules: {
      "@typescript-eslint/consistent-type-imports": "error",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", ignoreRestSiblings: true }],
      "no-console": "error",
    },
  },
  { files: ["server/main.ts", "cli/**", "scripts/**", "tests/**", "bench/**"], rules: { "no-console": "off" } },
  forbid(
    ["core/**/*.ts"],
    ["app", "server", "workers", "cli", "demo"],
    [...SCREEN, ...DATA, "node:*", "comlink"],
    "core is pure: no screen, no database, no Node",
  ),
  forbid(["demo/**/*.ts"], ["app", "server", "workers", "cli"], [...SCREEN, ...DATA], "the demo uses core only"),
  forbid(["workers/**/*.ts"], ["app", "server", "cli", "demo"], [...SCREEN, ...DATA], "workers use core only"),
  forbid(["cli/**/*.ts"], ["app", "server"], [...SCREEN, ...DATA], "the command line uses core and demo only"),
  forbid(
    ["server/**/*.ts"],
    ["app"],
    [...SCREEN.filter((p) => p !== "react-router")],
    "the server knows nothing of the screen",
  ),
  forbid(
    ["app/ui/**/*.{ts,tsx}"],
    ["session", "stations", "desk", "routes", "stage"],
    DATA,
    "ui pieces know nothing of the desk",
  ),
  forbid(["app/session/**/*.ts"], ["stations", "desk"], DATA, "the session knows nothing of the stations"),
  forbid(["app/stage/**/*.{ts,tsx}"], ["stations", "desk"], DATA, "the stage knows nothing of the stations"),
  { files: ["**/*.test.{ts,tsx}", "tests/**"], rules: { "no-restricted-imports": "off" } },
);
