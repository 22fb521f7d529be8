import { createContext } from "react";

/** Nonce of this page's inline scripts; empty in the browser. */
export const NonceContext = createContext("");
