import createCache, { type EmotionCache } from "@emotion/cache";

export const makeEmotionCache = (): EmotionCache => createCache({ key: "yx" });
