/** ESM throughout; run with NODE_OPTIONS=--experimental-vm-modules. */
export default {
  testEnvironment: "node",
  testMatch: ["<rootDir>/{core,demo,cli,server,workers,app}/**/*.test.{ts,tsx}", "<rootDir>/tests/outside/**/*.test.ts"],
  extensionsToTreatAsEsm: [".ts", ".tsx"],
  transform: { "^.+\\.tsx?$": ["<rootDir>/tests/helpers/transform.mjs", { jsc: { parser: { syntax: "typescript", tsx: true }, transform: { react: { runtime: "automatic" } }, target: "es2022" }, module: { type: "es6" } }] },
  moduleNameMapper: { "^~(core|workers|server)/(.*)$": "<rootDir>/$1/$2" },
  modulePathIgnorePatterns: ["<rootDir>/build/", "<rootDir>/.scratch/"],
  setupFiles: ["<rootDir>/tests/helpers/seed.ts"],
  testTimeout: 60_000,
};
