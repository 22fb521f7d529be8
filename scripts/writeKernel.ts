import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const TO = "core/deform/kernelBytes.ts";

/** core/deform/kernel/kernel.ts compiled, as the text of kernelBytes.ts. */
export function kernelText(): string {
  const folder = mkdtempSync(join(tmpdir(), "kernel-"));
  try {
    const out = join(folder, "kernel.wasm");
    const options = ["--runtime", "stub", "--importMemory", "--enable", "simd", "-O3", "--noAssert", "--outFile", out];
    execFileSync("node", ["node_modules/assemblyscript/bin/asc.js", "core/deform/kernel/kernel.ts", ...options]);
    const lines = readFileSync(out)
      .toString("hex")
      .match(/.{1,112}/g)!;
    return `// Written by "npm run kernel" from kernel/kernel.ts.
/** The compiled kernel, two hexadecimal digits a byte. */
export const KERNEL = [
${lines.map((l) => `  "${l}",`).join("\n")}
].join("");
`;
  } finally {
    rmSync(folder, { recursive: true });
  }
}

if (import.meta.url === `file://${process.argv[1]}`) writeFileSync(TO, kernelText());
