import { randomBytes, timingSafeEqual } from "node:crypto";
import type { NextFunction, Request, RequestHandler, Response } from "express";

/** Content security policy and its relatives; the nonce is for the page's own inline scripts. */
export function securityHeaders(): RequestHandler {
  return (_request: Request, response: Response, next: NextFunction) => {
    const nonce = randomBytes(16).toString("base64");
    response.locals["nonce"] = nonce;
    response.setHeader("Content-Security-Policy", [
      "default-src 'self'", `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`, "style-src 'self' 'unsafe-inline'", "img-src 'self' data: blob:", "font-src 'self'",
      "connect-src 'self'", "worker-src 'self' blob:", "object-src 'none'", "base-uri 'none'", "frame-ancestors 'none'", "form-action 'self'",
    ].join("; "));
    response.setHeader("X-Content-Type-Options", "nosniff");
    response.setHeader("Referrer-Policy", "same-origin");
    response.setHeader("Cross-Origin-Opener-Policy", "same-origin");
    response.setHeader("Cross-Origin-Resource-Policy", "same-origin");
    next();
  };
}

/** Refuses requests that change something and do not come from this site's own pages. */
export function sameSiteOnly(): RequestHandler {
  return (request, response, next) => {
    if (request.method === "GET" || request.method === "HEAD") return next();
    const origin = request.headers.origin;
    const site = request.headers["sec-fetch-site"];
    const foreign = (origin !== undefined && hostOf(origin) !== request.headers.host) || (site !== undefined && site !== "same-origin" && site !== "none");
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

/** Off loopback every visitor must bring the token once, as ?token=; a cookie remembers it. */
export function tokenGate(token: string): RequestHandler {
  const same = (given: string | undefined): boolean => given !== undefined && given.length === token.length && timingSafeEqual(Buffer.from(given), Buffer.from(token));
  return (request, response, next) => {
    const cookie = /(?:^|; )yxomorph=([^;]+)/.exec(request.headers.cookie ?? "")?.[1];
    if (same(cookie)) return next();
    if (same(typeof request.query["token"] === "string" ? request.query["token"] : undefined)) {
      response.setHeader("Set-Cookie", `yxomorph=${token}; HttpOnly; SameSite=Strict; Path=/`);
      return next();
    }
    response.status(401).type("text").send("This server asks for its token: open the address printed at its start.");
  };
}
