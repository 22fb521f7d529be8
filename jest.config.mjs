/**
 * Tests run in bare Node processes (no context of their own for each file): numeric code in such a context is several times slower.
 * TypeScript is read by tsx: run with NODE_OPTIONS="--import tsx".
 */
export default {
  runner: ["jest-light-runner", { runtime: "child_process" }],
  testMatch: ["<rootDir>/{core,demo,cli,server,workers,app}/**/*.test.{ts,tsx}", "<rootDir>/tests/outside/**/*.test.ts"],
  moduleFileExtensions: ["ts", "tsx", "mjs", "js", "json"],
  modulePathIgnorePatterns: ["<rootDir>/build/", "<rootDir>/.scratch/"],
  setupFiles: ["<rootDir>/tests/helpers/seed.ts"],
  maxWorkers: 2,
};
