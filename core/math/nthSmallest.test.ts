import fc from "fast-check";
import { IndexSet } from "./indexSet";
import { nthSmallest } from "./nthSmallest";

test("the n-th smallest is what stands there when all are sorted, equal ones among them", () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 1, maxLength: 80 }), fc.nat(), (list, at) => {
      const n = at % list.length;
      expect(nthSmallest(Float64Array.from(list), n)).toBe(list.toSorted((a, b) => a - b)[n]);
    }),
  );
});

test("a set of indices holds each once, and nothing of what was there before it was emptied", () => {
  const rounds = fc.array(fc.array(fc.nat(30), { maxLength: 40 }), { minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(rounds, (lists) => {
      const indices = new IndexSet(31);
      for (const list of lists) {
        indices.clear();
        for (const i of list) indices.add(i);
        expect(Array.from(indices.members())).toEqual([...new Set(list)]);
        expect(Array.from({ length: 31 }, (_, i) => i).filter((i) => indices.has(i))).toEqual(
          [...new Set(list)].sort((a, b) => a - b),
        );
      }
      expect.hasAssertions();
    }),
  );
});
