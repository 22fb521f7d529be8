import { useEffect, useState, type ReactNode } from "react";
import type { Holding } from "~core/model/arrayBytes";

const mb = (bytes: number): string => `${(bytes / 1048576).toLocaleString("en", { maximumFractionDigits: 1 })} MB`;

/** What the page keeps in memory so that nothing is fetched or made twice, against what it may keep. */
export function HeldMemory({ holdings }: { holdings: () => Promise<readonly Holding[]> }): ReactNode {
  const [rows, setRows] = useState<readonly Holding[]>([]);
  useEffect(() => {
    let gone = false;
    void holdings().then((found) => !gone && setRows(found));
    return () => {
      gone = true;
    };
  }, [holdings]);
  if (rows.length === 0) return null;
  return (
    <>
      <h2 className="t-head mb-8">Kept in memory by this page</h2>
      <table className="plain" aria-label="Kept in memory by this page">
        <tbody>
          {rows.map((r) => (
            <tr key={r.what}>
              <td>{r.what}</td>
              <td className="num">{r.entries}</td>
              <td className="num">{mb(r.bytes)}</td>
              <td className="muted">{Number.isFinite(r.limit) ? `of ${mb(r.limit)}` : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
