import compression from "compression";
import type { Request, RequestHandler } from "express";

/** Whether both ends are on this machine, where packing and unpacking takes longer than the way. */
export const isOwnMachine = ({ socket, headers }: Pick<Request, "socket" | "headers">): boolean =>
  headers["x-forwarded-for"] === undefined && /^(::1|(::ffff:)?127\.)/.test(socket.remoteAddress ?? "");

/** Packs what is sent to other machines. */
export const fewerBytes = (): RequestHandler =>
  compression({ filter: (request, response) => !isOwnMachine(request) && compression.filter(request, response) });
