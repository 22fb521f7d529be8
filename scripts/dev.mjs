import { execFileSync } from "node:child_process";

execFileSync("bash", ["scripts/build.sh"], { stdio: "inherit" });
process.env.NODE_ENV = "production";
await import("../server/main.ts");
