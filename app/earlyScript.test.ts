import vm from "node:vm";
import type { LedgerState } from "~workers/fetchState";
import { earlyScript } from "./earlyScript";

interface Started {
  readonly file: string;
  readonly name: string;
}
/** What the script of a page at an address starts. */
function started(pathname: string, search = "", state: LedgerState | null = null): Record<string, Started> {
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
  vm.runInNewContext(earlyScript({ pictures: "/assets/p.js", replay: "/assets/r.js" }, state), {
    window,
    Worker,
    location: { pathname, search },
    URLSearchParams,
    decodeURIComponent,
  });
  return JSON.parse(JSON.stringify(window.earlyWorkers ?? {})) as Record<string, Started>;
}

const named = (id: string, state: LedgerState | null = null): string => JSON.stringify({ id, state });

describe("the script that stands first in a page", () => {
  it("starts the replay of the character in the address, by its name", () => {
    expect(started("/c/oda%20two/skeleton")).toEqual({ replay: { file: "/assets/r.js", name: named("oda two") } });
  });
  it("starts what draws pictures where the proof is what opens", () => {
    const pictures = { file: "/assets/p.js", name: named("oda") };
    expect(started("/c/oda/shapes")["pictures"]).toEqual(pictures);
    expect(started("/c/oda/shapes", "?leaf=proof&sort=name")["pictures"]).toEqual(pictures);
    expect(started("/c/oda/shapes", "?leaf=list")["pictures"]).toBeUndefined();
  });
  it("hands them the state that the page shows, whatever stands in it", () => {
    const rename = { op: "rename", kind: "parts", names: [{ from: "a", to: "</script><b>" }] } as const;
    const state = { baseBlob: "ab", steps: [{ ...rename, names: [...rename.names] }] };
    expect(started("/c/oda/intake", "", state)["replay"]!.name).toBe(named("oda", state));
    expect(earlyScript({ pictures: "", replay: "" }, state)).not.toContain("</script>");
  });
  it("leaves a state that is too large for a page to be fetched", () => {
    const steps = Array.from({ length: 3000 }, () => ({ op: "reorder shapes" })) as unknown as LedgerState["steps"];
    expect(started("/c/oda/intake", "", { baseBlob: "ab", steps })["replay"]!.name).toBe(named("oda"));
  });
  it("starts nothing elsewhere", () => {
    expect(started("/")).toEqual({});
    expect(started("/c/oda")).toEqual({});
  });
});
