import { exposeOnceLoaded } from "~workers/exposeOnceLoaded";

exposeOnceLoaded(async () => (await import("./drawPictures")).pictures);
