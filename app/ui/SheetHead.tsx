import type { ReactNode } from "react";

/** Top of a sheet: its name, the switch between its leaves, and its tools. */
export function SheetHead({
  title,
  leaves,
  children,
}: {
  title: string;
  leaves?: ReactNode;
  children?: ReactNode;
}): ReactNode {
  return (
    <div className="sheet-head">
      <div className="title">
        <h1>{title}</h1>
        {leaves}
      </div>
      {children && <div className="sheet-tools">{children}</div>}
    </div>
  );
}
