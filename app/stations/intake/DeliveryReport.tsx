import type { ReactNode } from "react";
import { triangleCountOf } from "~core/model/character";
import { imagesOf } from "~core/model/materialLook";
import { useSession } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";

/** The delivery on one page: file, sizes, materials, what the reader left out. */
export function DeliveryReport(): ReactNode {
  const { character, ledger } = useCharacterPage();
  const loaded = useSession((s) => s.loaded);
  const { summary } = character;
  const rows: [string, string][] = [
    ["File", character.fileName],
    ["sha256", character.fileHash],
    ["Stature", `${summary.stature.toFixed(3)} m`],
    ["Vertices", summary.vertices.toLocaleString("en")],
    ["Triangles", summary.triangles.toLocaleString("en")],
    [
      "Joints",
      `${summary.joints}${loaded ? `, ${loaded.humanoid?.jointOfBone.size ?? 0} mapped to the humanoid` : ""}`,
    ],
    ["Shapes as delivered", String(summary.shapes)],
    ["Ledger", `${ledger.head} steps in force`],
  ];
  return (
    <div className="sheet-body">
      <div className="slip">
        <h2 className="m-0">Delivery of {character.name}</h2>
        <dl>
          {rows.map(([k, v]) => (
            <div key={k} style={{ display: "contents" }}>
              <dt>{k}</dt>
              <dd className={k === "sha256" ? "mono" : undefined}>{v}</dd>
            </div>
          ))}
        </dl>
        {summary.notes.length > 0 && (
          <>
            <h2 className="m-14-0-4">Set right or left out while reading</h2>
            <ul className="m-0 pl-18">
              {summary.notes.map((n) => (
                <li key={n}>{n}</li>
              ))}
            </ul>
          </>
        )}
      </div>
      {loaded && (
        <table className="plain">
          <thead>
            <tr>
              <th>Material</th>
              <th>Opacity</th>
              <th>Textures</th>
              <th className="to-right">Triangles</th>
            </tr>
          </thead>
          <tbody>
            {loaded.character.materials.map((m, i) => (
              <tr key={`${m.name} ${i}`}>
                <td>{m.name}</td>
                <td className="muted">{m.opacity}</td>
                <td className="muted">
                  {imagesOf(m).length
                    ? `${imagesOf(m).length > 1 ? `${imagesOf(m).length}, ` : ""}${Math.round(imagesOf(m).reduce((n, b) => n + b.length, 0) / 1024)} kB`
                    : "none"}
                </td>
                <td className="num">
                  {loaded.character.parts
                    .reduce(
                      (n, p) =>
                        n +
                        (p.groups.some((g) => g.material === i)
                          ? Math.round(
                              (triangleCountOf(p) *
                                p.groups.filter((g) => g.material === i).reduce((c, g) => c + g.faceCount, 0)) /
                                (p.faceStarts.length - 1),
                            )
                          : 0),
                      0,
                    )
                    .toLocaleString("en")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
