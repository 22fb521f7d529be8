/**
 * No test passes that asserted nothing: a loop over what turned out to be empty, a promise nobody waited for. Every
 * test is run as it stands, and fails when not one expectation was asked while it ran.
 */
const calls = () => expect.getState().assertionCalls ?? 0;
const guarded =
  (fn) =>
  async (...given) => {
    const before = calls();
    await fn(...given);
    if (calls() === before) throw new Error("Nothing was asserted: no expectation was asked while this test ran.");
  };

function guard(original) {
  const wrapped = (name, fn, timeout) => original(name, fn && guarded(fn), timeout);
  return Object.assign(wrapped, original, {
    each:
      (...table) =>
      (name, fn, timeout) =>
        original.each(...table)(name, guarded(fn), timeout),
  });
}
// not by assignment: the type check would take that for a declaration
Object.assign(globalThis, { it: guard(globalThis.it), test: guard(globalThis.test) });
