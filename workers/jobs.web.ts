import { exposeOnceLoaded } from "./exposeOnceLoaded";

exposeOnceLoaded(async () => (await import("./jobsInPage")).jobs);
