import swc from "@swc/jest";

/**
 * TypeScript to ESM for Jest. Test files run in a context of their own, where each look at a global goes through a slow lookup;
 * numeric code looks at Math millions of times, so every module gets it as a constant of its own.
 */
const GLOBALS = "const { Math, Array, Float32Array, Float64Array, Uint32Array, Map, Set } = globalThis;";
const withGlobals = (result) => (typeof result === "string" ? `${GLOBALS}${result}` : { ...result, code: `${GLOBALS}${result.code}` });

export default {
  createTransformer(options) {
    const inner = swc.createTransformer(options);
    return {
      canInstrument: false,
      getCacheKey: (...all) => `${inner.getCacheKey(...all)}-globals-1`,
      process: (...all) => withGlobals(inner.process(...all)),
      processAsync: async (...all) => withGlobals(await inner.processAsync(...all)),
    };
  },
};
