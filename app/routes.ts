import { index, layout, route, type RouteConfig } from "@react-router/dev/routes";

export default [
  index("routes/cast.tsx"),
  layout("routes/character.tsx", [
    route("c/:id/intake", "routes/intake.tsx"),
    route("c/:id/skeleton", "routes/skeleton.tsx"),
    route("c/:id/shapes", "routes/shapes.tsx"),
    route("c/:id/correctives", "routes/correctives.tsx"),
    route("c/:id/trials", "routes/trials.tsx"),
    route("c/:id/handoff", "routes/handoff.tsx"),
  ]),
  route("c/:id", "routes/characterHome.tsx"),
  route("*", "routes/notFound.tsx"),
] satisfies RouteConfig;
