import { exposeOnceLoaded } from "./exposeOnceLoaded";

exposeOnceLoaded(async () => (await import("./replay")).replay);
