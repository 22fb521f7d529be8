import vm from "node:vm";
import type { LedgerState } from "~workers/fetchState";
import { earlyScript } from "./earlyScript";

interface Started {
  readonly file: string;
  readonly name: string;
}
const FILES = { pictures: "/assets/p.js", replay: "/assets/r.js", stage: "/assets/s.js" };

/** Runs the script of a page at an address. @returns the workers that it starts, and the links that it adds. */
function run(
  pathname: string,
  search = "",
  state: LedgerState | null = null,
): { workers: Record<string, Started>; links: unknown[] } {
  const links: unknown[] = [];
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
  vm.runInNewContext(earlyScript(FILES, state), {
    window,
    Worker,
    location: { pathname, search },
    URLSearchParams,
    decodeURIComponent,
    document: { createElement: () => ({}), head: { append: (link: unknown) => links.push(link) } },
  });
  return JSON.parse(JSON.stringify({ workers: window.earlyWorkers ?? {}, links })) as ReturnType<typeof run>;
}
const started = (...at: Parameters<typeof run>): Record<string, Started> => run(...at).workers;

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
    expect(earlyScript(FILES, state)).not.toContain("</script>");
  });
  it("leaves a state that is too large for a page to be fetched", () => {
    const steps = Array.from({ length: 3000 }, () => ({ op: "reorder shapes" })) as unknown as LedgerState["steps"];
    expect(started("/c/oda/intake", "", { baseBlob: "ab", steps })["replay"]!.name).toBe(named("oda"));
  });
  it("fetches the stage with the page's own modules where no pictures come first", () => {
    const stage = { rel: "modulepreload", href: "/assets/s.js", fetchPriority: "low" };
    expect(run("/c/oda/intake").links).toEqual([stage]);
    expect(run("/c/oda/shapes", "?leaf=list").links).toEqual([stage]);
    expect(run("/c/oda/shapes").links).toEqual([]);
    expect(run("/").links).toEqual([]);
  });
  it("starts nothing elsewhere", () => {
    expect(started("/")).toEqual({});
    expect(started("/c/oda")).toEqual({});
  });
});
