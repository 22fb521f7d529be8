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
/** Folders of core from the inside out; an arrow points inward only, that of a type too. */
const CORE = [
  "math",
  "names",
  "model",
  "evaluate",
  "deform",
  "surface",
  "skeleton",
  "measure",
  "formats",
  "weights",
  "shapes",
  "correctives",
  "edits",
  "transfer",
  "wrap",
  "clips",
  "speech",
  "tracking",
  "checks",
  "trials",
  "intake",
  "ledger",
];
const coreFolder = (name, i) => ({
  files: [`core/${name}/**/*.ts`],
  ignores: ["**/*.test.ts"],
  rules: {
    "@typescript-eslint/no-restricted-imports": [
      "error",
      {
        patterns: CORE.slice(i + 1).length
          ? [{ regex: `^(\\.\\./)+(${CORE.slice(i + 1).join("|")})/`, message: `core/${name} is further in` }]
          : [],
      },
    ],
  },
});
const DEEP = {
  selector: "ConditionalExpression > ConditionalExpression > ConditionalExpression",
  message: "more than two conditions in one expression: make it a function or a table",
};
const SCREEN = ["react", "react-dom", "react-router", "@mui/*", "@react-three/*", "three", "three/*", "zustand"];
const DATA = ["pg", "drizzle-orm", "drizzle-orm/*", "express", "pino"];

export default tseslint.config(
  { ignores: ["build/", "node_modules/", ".react-router/", ".scratch/", ".cache/", "test-results/"] },
  ...tseslint.configs.recommended,
  {
    files: ["**/*.mjs", "**/*.js"],
    languageOptions: { globals: { process: "readonly", console: "readonly", URL: "readonly" } },
  },
  // a function fits a screen; a component's markup may run on a little
  {
    files: ["**/*.{ts,tsx}"],
    ignores: ["**/*.test.{ts,tsx}", "tests/**", "bench/**", "scripts/**"],
    rules: { "max-lines-per-function": ["error", 60] },
  },
  { files: ["app/**/*.tsx"], rules: { "max-lines-per-function": ["error", 90] } },
  { files: ["app/**/*.{ts,tsx}"], ...reactHooks.configs.flat.recommended },
  // three.js objects are changed in place; that is how they are used
  { files: ["app/stage/**/*.{ts,tsx}"], rules: { "react-hooks/immutability": "off" } },
  {
    files: ["**/*.{ts,tsx}"],
    rules: {
      "@typescript-eslint/consistent-type-imports": "error",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", ignoreRestSiblings: true }],
      "no-console": "error",
      "max-len": [
        "error",
        { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true, ignoreUrls: true },
      ],
      "no-restricted-syntax": ["error", DEEP],
    },
  },
  { files: ["server/main.ts", "cli/**", "scripts/**", "tests/**", "bench/**"], rules: { "no-console": "off" } },
  forbid(
    ["core/**/*.ts"],
    ["app", "server", "workers", "jobs", "cli", "demo", "voice"],
    [...SCREEN, ...DATA, "node:*", "comlink"],
    "core is pure: no screen, no database, no Node",
  ),
  ...CORE.map(coreFolder),
  forbid(
    ["jobs/**/*.ts"],
    ["app", "server", "workers", "cli", "demo"],
    [...SCREEN, ...DATA, "node:*", "comlink"],
    "jobs use core only: any thread or host may run them",
  ),
  forbid(
    ["voice/**/*.ts"],
    ["app", "server", "workers", "jobs", "cli", "demo"],
    [...SCREEN, ...DATA],
    "the voice uses core only",
  ),
  forbid(
    ["demo/**/*.ts"],
    ["app", "server", "workers", "jobs", "cli"],
    [...SCREEN, ...DATA],
    "the demo uses core only",
  ),
  forbid(["workers/**/*.ts"], ["app", "server", "cli", "demo"], [...SCREEN, ...DATA], "workers use core and jobs only"),
  {
    files: ["workers/*.web.ts", "app/stage/**/*.worker.ts"],
    rules: {
      "no-restricted-syntax": [
        "error",
        DEEP,
        {
          selector: "ImportDeclaration:not([source.value=/exposeOnceLoaded$/])",
          message: "a worker's own file loads at once: what it does is imported by exposeOnceLoaded",
        },
      ],
    },
  },
  forbid(["cli/**/*.ts"], ["app", "server"], [...SCREEN, ...DATA], "the command line uses core, voice and demo only"),
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
  forbid(["app/session/**/*.ts"], ["stations", "desk", "stage"], DATA, "the session knows nothing of the stations"),
  {
    files: ["app/{session,stage,ui}/**/*.{ts,tsx}"],
    rules: {
      "@typescript-eslint/no-restricted-imports": [
        "error",
        { patterns: [{ regex: "/routes/", message: "routes stand on the desk, nothing of it on them" }] },
      ],
    },
  },
  forbid(["app/stage/**/*.{ts,tsx}"], ["stations", "desk"], DATA, "the stage knows nothing of the stations"),
  {
    files: ["app/{desk,stage,stations,routes,ui}/**/*.{ts,tsx}"],
    rules: {
      "no-restricted-syntax": [
        "error",
        DEEP,
        {
          selector: "CallExpression[callee.property.name='setState']",
          message: "the desk is changed by the actions of app/session",
        },
      ],
    },
  },
  {
    files: ["**/*.test.{ts,tsx}", "tests/**"],
    rules: { "no-restricted-imports": "off", "no-restricted-syntax": ["error", DEEP] },
  },
);
