import { CacheProvider } from "@emotion/react";
import { StrictMode, startTransition } from "react";
import { hydrateRoot } from "react-dom/client";
import { HydratedRouter } from "react-router/dom";
import { makeEmotionCache } from "./ui/emotionCache";

startTransition(() => {
  hydrateRoot(
    document,
    <StrictMode>
      <CacheProvider value={makeEmotionCache()}>
        <HydratedRouter />
      </CacheProvider>
    </StrictMode>,
  );
});
