import Button from "@mui/material/Button";
import type { ReactNode } from "react";

/** A page with one sentence and the way on. */
export function PlainPage({ title, text, retry = false }: { title: string; text: string; retry?: boolean }): ReactNode {
  return (
    <main className="cast max-w-560 pt-90">
      <h1 style={{ fontSize: 20 }}>{title}</h1>
      <p>{text}</p>
      <div className="line">
        {retry && (
          <Button variant="contained" onClick={() => window.location.reload()}>
            Try again
          </Button>
        )}
        <Button href="/">Go to the cast</Button>
      </div>
    </main>
  );
}
