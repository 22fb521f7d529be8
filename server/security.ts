import { createHash, randomBytes, timingSafeEqual } from "node:crypto";
import type { NextFunction, Request, RequestHandler, Response } from "express";
import helmet from "helmet";
import { LOOPBACK } from "./settings";

const nonceOf = (_request: unknown, response: unknown): string =>
  `'nonce-${(response as Response).locals["nonce"] as string}'`;

/**
 * Response headers that keep pages to themselves; the nonce is for the page's own inline scripts.
 * @param trackers addresses that pages may connect to beside this server.
 */
export function securityHeaders(trackers: () => readonly string[] = () => []): RequestHandler[] {
  return [
    (_request: Request, response: Response, next: NextFunction) => {
      response.locals["nonce"] = randomBytes(16).toString("base64");
      next();
    },
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", nonceOf, "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", "data:", "blob:"],
          fontSrc: ["'self'"],
          connectSrc: ["'self'", () => trackers().join(" ")],
          workerSrc: ["'self'", "blob:"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
          formAction: ["'self'"],
        },
      },
      referrerPolicy: { policy: "same-origin" },
      // plain HTTP on a local network: the browser must not be told to insist on what is not there
      strictTransportSecurity: false,
    }) as RequestHandler,
  ];
}

/** The name part of a Host header, without port and brackets, lower case; null when it is no such header. */
export function hostName(header: string | undefined): string | null {
  const match = /^(?:\[([0-9a-f:.]+)\]|([a-z0-9.-]+))(?::\d{1,5})?$/i.exec(header ?? "");
  return match ? (match[1] ?? match[2]!).toLowerCase().replace(/\.$/, "") : null;
}

/**
 * Answers only requests that ask for this server by a name it is known by, so that a foreign name bound to its address
 * reaches nothing.
 */
export function knownHostsOnly(names: readonly string[]): RequestHandler {
  const known = new Set([...LOOPBACK, ...names.map((n) => n.toLowerCase())]);
  return (request, response, next) => {
    const name = hostName(request.headers.host);
    if (name !== null && known.has(name)) return next();
    response
      .status(421)
      .type("text")
      .send("This server is not known by that name. Its owner can add the name in YXOMORPH_NAMES.");
  };
}

/** Refuses requests that change something and do not come from this site's own pages. */
export function sameSiteOnly(): RequestHandler {
  return (request, response, next) => {
    if (request.method === "GET" || request.method === "HEAD") return next();
    const origin = request.headers.origin;
    const site = request.headers["sec-fetch-site"];
    const foreign =
      (origin !== undefined && hostOf(origin) !== request.headers.host) ||
      (site !== undefined && site !== "same-origin" && site !== "none");
    if (!foreign) return next();
    response.status(403).json({ error: { what: "Posts from other sites are refused.", where: "", todo: "" } });
  };
}

const hostOf = (origin: string): string | null => {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
};

const digest = (text: string): Buffer => createHash("sha256").update(text).digest();

/**
 * Off loopback every visitor must bring the token once, as ?token=; a cookie remembers it, and the address goes on
 * without it.
 */
export function tokenGate(token: string): RequestHandler {
  const wanted = digest(token);
  const same = (given: unknown): boolean => typeof given === "string" && timingSafeEqual(digest(given), wanted);
  return (request, response, next) => {
    const cookie = /(?:^|; )yxomorph=([^;]+)/.exec(request.headers.cookie ?? "")?.[1];
    const given = request.query["token"];
    if (same(given)) {
      response.setHeader("Set-Cookie", `yxomorph=${encodeURIComponent(token)}; HttpOnly; SameSite=Strict; Path=/`);
      if (request.method !== "GET") return next();
      const to = new URL(request.originalUrl.replace(/^\/{2,}/, "/"), "http://localhost");
      to.searchParams.delete("token");
      return void response.redirect(303, `${to.pathname}${to.search}`);
    }
    if (same(cookie && decoded(cookie))) return next();
    response.status(401).type("text").send("This server asks for its token: open the address printed at its start.");
  };
}

const decoded = (text: string): string => {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
};
