/**
 * Tests run in bare Node threads (no context of their own for each file): numeric code in such a context is several
 * times slower. TypeScript is read by tsx, which the first set-up file registers in each thread.
 */
export default {
  runner: "jest-light-runner",
  testMatch: [
    "<rootDir>/{core,demo,cli,server,voice,workers,jobs,app}/**/*.test.{ts,tsx}",
    "<rootDir>/tests/{outside,faults}/**/*.test.ts",
  ],
  moduleFileExtensions: ["ts", "tsx", "mjs", "js", "json"],
  modulePathIgnorePatterns: ["<rootDir>/build/", "<rootDir>/.scratch/"],
  setupFiles: ["<rootDir>/tests/helpers/seed.mjs"],
  setupFilesAfterEnv: ["<rootDir>/tests/helpers/assertsSomething.mjs"],
  maxWorkers: 2,
};
