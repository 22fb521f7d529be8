import type express from "express";
import { Router, type Request, type Response } from "express";
import { characterRoutes } from "./characterRoutes";
import { deliveryRoutes } from "./deliveryRoutes";
import { handOffRoutes } from "./handOffRoutes";
import { jobRoutes } from "./jobRoutes";
import { arrangementRoutes } from "./arrangementRoutes";
import { ledgerRoutes } from "./ledgerRoutes";
import { speechRoutes } from "./speechRoutes";
import { trackingRoutes } from "./trackingRoutes";
import { routeTools, type ApiSettings } from "./routeTools";

/** Binary and JSON routes beside the pages: geometry, ledger steps, uploads, jobs, trials, downloads. */
export function apiRouter(settings: ApiSettings): Router {
  const router = Router();
  const tools = routeTools(settings);
  const { answerError } = tools;
  const groups = [
    characterRoutes,
    ledgerRoutes,
    arrangementRoutes,
    deliveryRoutes,
    handOffRoutes,
    jobRoutes,
    speechRoutes,
    trackingRoutes,
  ];
  for (const routes of groups) routes(router, tools);
  router.use(
    (_request, response) =>
      void response.status(404).json({ error: { what: "There is no such address.", where: "", todo: "" } }),
  );
  // what is wrong with the request itself: an address or a body that cannot be read
  router.use(
    (error: { status?: number; type?: string }, request: Request, response: Response, _next: express.NextFunction) => {
      const status = error.status ?? 500;
      if (status === 413)
        return void response.status(413).json({ error: { what: "What was sent is too large.", where: "", todo: "" } });
      if (status >= 400 && status < 500)
        return void response
          .status(status === 400 && error.type === undefined ? 404 : 422)
          .json({ error: { what: "The request cannot be read.", where: "", todo: "Reload the page." } });
      answerError(error, request, response);
    },
  );
  return router;
}
