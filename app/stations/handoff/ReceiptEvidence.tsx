import type { ReactNode } from "react";
import { useRouteLoaderData } from "react-router";
import { vertexCountOf } from "~core/model/character";
import { imageCount } from "~core/model/materialLook";
import type { HandOff } from "~server/services/handOffs";
import { useSession } from "../../session/session";
import { LimitBar } from "../../ui/LimitBar";
import { counted } from "../../ui/counted";
import { Counts } from "../../ui/Counts";

/** Smallest difference that counts: rounding to 32 bits stays well under it (mm). */
const LIMIT_MM = 0.01;

/** Versions against each other: size, what they hold, and how exactly they read back. */
export function ReceiptEvidence(): ReactNode {
  const handOffs = (useRouteLoaderData("routes/handoff") as { handOffs: HandOff[] } | undefined)?.handOffs ?? [];
  if (handOffs.length === 0) return <ToCompare />;
  return (
    <>
      <h2>Read back, version by version</h2>
      <div className="over-auto">
        <table className="plain">
          <thead>
            <tr>
              <th>Version</th>
              <th className="to-right">Size</th>
              <th className="to-right">Shapes</th>
              <th className="to-right">Drivers</th>
              <th>Largest error</th>
              <th>Validator</th>
            </tr>
          </thead>
          <tbody>
            {handOffs.map(({ version, receipt }) => (
              <tr key={version}>
                <td>{version}</td>
                <td className="num">{(receipt.bytes / 1048576).toFixed(2)} MB</td>
                <td className="num">{receipt.shapeCount}</td>
                <td className="num">{receipt.driverCount}</td>
                <td>
                  <LimitBar
                    value={receipt.readBack.largestErrorMm}
                    limit={LIMIT_MM}
                    text={`${receipt.readBack.largestErrorMm.toFixed(6)} mm`}
                  />
                </td>
                <td>
                  {counted(receipt.validator.errors, "errors")}, {counted(receipt.validator.warnings, "warnings")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** What will be read back and compared, before anything was handed off. */
function ToCompare(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  if (!loaded) return null;
  const { parts, skeleton, shapes, drivers, shapeDrivers, clips, materials } = loaded.character;
  const counts: readonly (readonly [string, number])[] = [
    ["parts", parts.length],
    ["vertices", parts.reduce((n, p) => n + vertexCountOf(p), 0)],
    ["joints", skeleton?.joints.length ?? 0],
    ["shapes", shapes.length],
    ["drivers", drivers.length + shapeDrivers.length],
    ["clips", clips.length],
    ["materials", materials.length],
    ["images", imageCount(materials)],
  ];
  return (
    <>
      <h2>Will be read back and compared, to {LIMIT_MM} mm</h2>
      <Counts of={counts} />
    </>
  );
}
