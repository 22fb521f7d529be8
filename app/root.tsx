import "@fontsource-variable/atkinson-hyperlegible-mono/index.css";
import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import mono from "@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2?url";
import sans from "@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url";
import "./ui/base.css";
import "./ui/steps.css";
import CssBaseline from "@mui/material/CssBaseline";
import InitColorSchemeScript from "@mui/material/InitColorSchemeScript";
import { ThemeProvider } from "@mui/material/styles";
import { SnackbarProvider } from "notistack";
import { useContext, type ReactNode } from "react";
import type { LinksFunction } from "react-router";
import { isRouteErrorResponse, Links, Meta, Outlet, Scripts, ScrollRestoration, useRouteError } from "react-router";
import { NonceContext } from "./ui/NonceContext";
import { PlainPage } from "./ui/PlainPage";
import { theme } from "./ui/theme";

/** Letters are there before the first layout: else every text is set twice, first in letters of the system. */
export const links: LinksFunction = () =>
  [sans, mono].map((href) => ({ rel: "preload", as: "font", type: "font/woff2", href, crossOrigin: "anonymous" }));

export function Layout({ children }: { children: ReactNode }): ReactNode {
  const nonce = useContext(NonceContext);
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <link rel="icon" href="/favicon.svg" type="image/svg+xml" />
        <Meta />
        <Links />
      </head>
      <body>
        <InitColorSchemeScript attribute="data-scheme" defaultMode="light" nonce={nonce} />
        <ThemeProvider theme={theme} defaultMode="light">
          <CssBaseline />
          <SnackbarProvider
            maxSnack={3}
            autoHideDuration={5000}
            anchorOrigin={{ vertical: "bottom", horizontal: "left" }}>
            {children}
          </SnackbarProvider>
        </ThemeProvider>
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function App(): ReactNode {
  return <Outlet />;
}

/** Plain words for what went wrong; never a stack trace. */
export function ErrorBoundary(): ReactNode {
  const error = useRouteError();
  if (isRouteErrorResponse(error)) {
    const told = error.data as { what?: string; todo?: string } | undefined;
    return (
      <PlainPage
        title={error.status === 404 ? "Nothing is at this address" : (told?.what ?? "The page could not be made")}
        text={told?.todo ?? ""}
        retry={error.status === 503}
      />
    );
  }
  return <PlainPage title="The page stopped working" text="What was saved is safe. Reload to go on." retry />;
}
