import { readFileSync } from "node:fs";
import { kernelText } from "../../scripts/writeKernel";

describe("the kernel of what is drawn", () => {
  it("is what its source compiles to: npm run kernel writes it anew", () => {
    expect(readFileSync("core/deform/kernelBytes.ts", "utf8")).toBe(kernelText());
  });
});
