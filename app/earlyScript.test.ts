import vm from "node:vm";
import { earlyScript } from "./earlyScript";

interface Started {
  readonly file: string;
  readonly name: string;
}
/** What the script of a page at an address starts. */
function started(pathname: string, search = ""): Record<string, Started> {
  const window: { earlyWorkers?: Record<string, Started> } = {};
  class Worker {
    readonly name: string;
    constructor(
      readonly file: string,
      { name }: { name: string },
    ) {
      this.name = name;
    }
  }
  vm.runInNewContext(earlyScript({ pictures: "/assets/p.js", replay: "/assets/r.js" }), {
    window,
    Worker,
    location: { pathname, search },
    URLSearchParams,
    decodeURIComponent,
  });
  return JSON.parse(JSON.stringify(window.earlyWorkers ?? {})) as Record<string, Started>;
}

describe("the script that stands first in a page", () => {
  it("starts the replay of the character in the address, by its name", () => {
    expect(started("/c/oda%20two/skeleton")).toEqual({ replay: { file: "/assets/r.js", name: "oda two" } });
  });
  it("starts what draws pictures where the proof is what opens", () => {
    const pictures = { file: "/assets/p.js", name: "oda" };
    expect(started("/c/oda/shapes")["pictures"]).toEqual(pictures);
    expect(started("/c/oda/shapes", "?leaf=proof&sort=name")["pictures"]).toEqual(pictures);
    expect(started("/c/oda/shapes", "?leaf=list")["pictures"]).toBeUndefined();
  });
  it("starts nothing elsewhere", () => {
    expect(started("/")).toEqual({});
    expect(started("/c/oda")).toEqual({});
  });
});
