import type { ReactNode } from "react";
import { Link } from "react-router";

export function Wordmark(): ReactNode {
  return (
    <Link to="/" className="wordmark" aria-label="Yxomorph, to the cast">
      <svg width="24" height="24" viewBox="0 0 32 32" aria-hidden>
        <path
          d="M5 6c6 1 10 5 11 11C17 11 21 7 27 6c0 7-4 11-11 12C9 17 5 13 5 6zM16 18v9"
          fill="none"
          stroke="var(--accent)"
          strokeWidth="2.4"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      </svg>
      <span className="wordmark-name">yxomorph</span>
    </Link>
  );
}
