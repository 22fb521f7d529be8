import { PassThrough } from "node:stream";
import { CacheProvider } from "@emotion/react";
import createEmotionServer from "@emotion/server/create-instance";
import { renderToPipeableStream } from "react-dom/server";
import { ServerRouter, type EntryContext } from "react-router";
import type { PageContext } from "~server/context";
import type { LedgerState } from "~workers/fetchState";
import { earlyScript } from "./earlyScript";
import { readPage } from "./session/readPage";
import { makeEmotionCache } from "./ui/emotionCache";
import { NonceContext } from "./ui/NonceContext";

/** How the page's own modules are asked for: after those of the workers, for which the page waits longer. */
const PRELOAD = '<link rel="modulepreload"';

/** The state of the character that a page shows; null for pages of none. */
function stateShown({ staticHandlerContext: { loaderData } }: EntryContext): LedgerState | null {
  const text: unknown = loaderData["routes/character"];
  if (typeof text !== "string") return null;
  const { baseBlob, entries, head } = readPage(text).ledger;
  return { baseBlob, steps: entries.slice(0, head).map((e) => e.step) };
}

/** Renders the whole page, then puts the styles it used before </head>. */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  context: EntryContext,
  loadContext: Partial<PageContext>,
): Promise<Response> {
  const cache = makeEmotionCache();
  const { extractCriticalToChunks, constructStyleTagsFromChunks } = createEmotionServer(cache);
  const nonce = loadContext.nonce ?? "";
  const { earlyWorkers } = loadContext;
  const first = earlyWorkers
    ? `<script nonce="${nonce}">${earlyScript(earlyWorkers, stateShown(context))}</script>`
    : "";
  return new Promise((resolve, reject) => {
    let failed = status;
    const { pipe, abort } = renderToPipeableStream(
      <NonceContext.Provider value={nonce}>
        <CacheProvider value={cache}>
          <ServerRouter context={context} url={request.url} nonce={nonce} />
        </CacheProvider>
      </NonceContext.Provider>,
      {
        nonce,
        onAllReady() {
          const body = new PassThrough();
          const chunks: Buffer[] = [];
          body.on("data", (chunk: Buffer) => chunks.push(chunk));
          body.on("end", () => {
            const html = Buffer.concat(chunks).toString("utf8");
            const styles = constructStyleTagsFromChunks(extractCriticalToChunks(html));
            headers.set("Content-Type", "text/html; charset=utf-8");
            const page = html
              .replaceAll(PRELOAD, `${PRELOAD} fetchpriority="low"`)
              .replace("<head>", () => `<head>${first}`)
              .replace("</head>", () => `${styles}</head>`);
            resolve(new Response(page, { headers, status: failed }));
          });
          pipe(body);
        },
        onShellError: reject,
        onError() {
          failed = 500;
        },
      },
    );
    setTimeout(abort, 10_000).unref();
  });
}
