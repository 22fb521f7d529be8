import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { useDropzone } from "react-dropzone";
import type { TextureMatch } from "~core/edits/textures/matchTextures";
import type { Character } from "~core/model/character";
import { TEXTURE_USES } from "~core/names/textureWords";
import { takeKeptTextures } from "../../session/droppedTextures";
import { givenFile } from "../../session/jobs/givenFile";
import { startJob } from "../../session/jobs/pageJobs";
import { useWork } from "../../session/jobs/useWork";
import { hashOf, type StepWithBlobs } from "../../session/ledgerClient";
import { useSession, type Loaded } from "../../session/session";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { Progress } from "../../ui/Progress";
import { Refused } from "../../ui/Refused";

/** An image with what it is taken for. */
interface Row extends TextureMatch {
  readonly image: File;
}

const EVERY = "\u0000every";
const LEFT_OUT = "left out";

/**
 * Textures that come as files of their own: matched to materials by the words of their names, set right by hand, and
 * taken as one step.
 */
export function Textures({ character }: { character: Character }): ReactNode {
  const hasLoaded = useSession((s) => s.loaded !== null);
  const images = useImages(character);
  const { rows, refused, told, work, read } = images;
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => void read(files),
    noClick: true,
    noKeyboard: true,
    disabled: work.running !== null,
  });
  return (
    <div
      {...getRootProps()}
      className={`drop low${isDragActive ? " over" : ""} cursor-default`}
      role="region"
      aria-label="Textures as files">
      <input {...getInputProps()} aria-label="Files: Textures as files" />
      {rows.length === 0 && (
        <span className="muted t-small">
          Images as PNG or JPEG, any number at once: base colour, normal, roughness, gloss, metalness, occlusion,
          emissive, opacity. Materials and uses are read from their names and shown before they are taken.
        </span>
      )}
      {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      {!work.running && rows.length === 0 && (
        <Button onClick={open} disabled={!hasLoaded}>
          Choose images
        </Button>
      )}
      <Refused why={work.refusal} />
      {told && (
        <span role="status" className="t-small">
          {told}
        </span>
      )}
      {refused.map((r) => (
        <div key={r.file} className="refusal to-left break-words" role="alert">
          <b>{r.file}</b> {r.why}
        </div>
      ))}
      {rows.length > 0 && <TextureTable images={images} character={character} onOthers={open} />}
    </div>
  );
}

type Images = ReturnType<typeof useImages>;

/** Images that were dropped, what each is taken for, and taking them. */
function useImages(character: Character) {
  const loaded = useSession((s) => s.loaded);
  const { character: here } = useCharacterPage();
  const { addStep } = useDesk();
  const [rows, setRows] = useState<readonly Row[]>([]);
  const [refused, setRefused] = useState<readonly { file: string; why: string }[]>([]);
  const [told, setTold] = useState("");
  const work = useWork("The images could not be read.");
  const { during } = work;
  const read = useCallback(
    async (files: readonly File[]): Promise<void> => {
      if (!loaded || files.length === 0) return;
      setTold("");
      const found = await during("Reading the names", async (progress, signal) =>
        startJob(loaded, "match textures", { files: await Promise.all(files.map(givenFile)) }, { progress, signal }),
      );
      if (!found) return;
      setRefused(found.refused);
      setRows(found.matches.map((m) => ({ ...m, image: files.find((f) => f.name === m.file)! })));
    },
    [loaded, during],
  );
  const kept = useRef<readonly File[] | null>(null);
  useEffect(() => {
    kept.current ??= takeKeptTextures(here.id);
    if (!loaded || kept.current.length === 0) return;
    void read(kept.current);
    kept.current = [];
  }, [here.id, loaded, read]);
  const chosen = rows.filter((r) => r.use !== null && r.material !== null);
  const take = async (): Promise<void> => {
    const made = await during("Making the maps", (progress, signal) =>
      makeMaps(loaded!, chosen, character, { progress, signal }),
    );
    if (!made || !(await addStep(made.step, made.blobs))) return;
    setTold(`${counted(made.blobs.length, "maps")} taken, of ${counted(chosen.length, "files")}.`);
    setRows([]);
    setRefused([]);
  };
  return {
    rows,
    refused,
    told,
    work,
    chosen,
    read,
    take,
    set: (i: number, change: Partial<Row>): void => setRows(rows.map((r, k) => (k === i ? { ...r, ...change } : r))),
    leave: (): void => setRows([]),
  };
}

/** The maps of the chosen images as a step with its bytes. */
async function makeMaps(
  loaded: Loaded,
  chosen: readonly Row[],
  character: Character,
  told: Parameters<typeof startJob>[3],
): Promise<StepWithBlobs> {
  const files = await Promise.all(chosen.map((r) => givenFile(r.image)));
  const wanted = chosen.flatMap((r, i) =>
    materialsOf(r, character).map((material) => ({ file: r.file, bytes: files[i]!.bytes, use: r.use!, material })),
  );
  const { maps, settings } = await startJob(loaded, "make maps", { chosen: wanted }, told);
  const blobs = maps.map((m) => m.bytes as Uint8Array<ArrayBuffer>);
  const hashes = await Promise.all(blobs.map(hashOf));
  return {
    step: {
      op: "take textures",
      items: maps.map(({ bytes: _, ...m }, i) => ({ ...m, blob: hashes[i]! })),
      settings: settings.map((s) => ({
        ...s,
        ...(s.baseColor ? { baseColor: [...s.baseColor] } : {}),
        ...(s.emissive ? { emissive: [...s.emissive] } : {}),
      })) as never,
    },
    blobs,
  };
}

interface TextureTableProps {
  readonly images: Images;
  readonly character: Character;
  readonly onOthers: () => void;
}
function TextureTable({ images, character, onOthers }: TextureTableProps): ReactNode {
  const { rows, chosen, work } = images;
  const clash = clashOf(chosen, character);
  return (
    <div className="wide to-left">
      <table className="plain t-small texture-files" aria-label="Images and what they are taken for">
        <thead>
          <tr>
            <th />
            <th>Image</th>
            <th>is</th>
            <th>of</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <TextureRow key={row.file} row={row} character={character} onSet={(change) => images.set(i, change)} />
          ))}
        </tbody>
      </table>
      <Refused why={clash} />
      <div className="line mt-6">
        <Button
          variant="contained"
          disabled={work.running !== null || chosen.length === 0 || clash !== ""}
          onClick={() => void images.take()}>
          Take {chosen.length} of {rows.length}
        </Button>
        <Button onClick={images.leave}>Leave them</Button>
        <Button onClick={onOthers}>Choose others</Button>
      </div>
    </div>
  );
}

/** Materials that an image is chosen for. */
const materialsOf = (row: Row, { materials }: Character): string[] =>
  row.material === EVERY ? materials.map((m) => m.name) : row.material ? [row.material] : [];

/** Two images that were chosen for one place, in words; empty where there are none. */
function clashOf(chosen: readonly Row[], character: Character): string {
  const taken = new Map<string, Row>();
  for (const row of chosen)
    for (const material of materialsOf(row, character)) {
      const use = row.use!.replace(", green down", "").replace("gloss", "roughness");
      const at = `${use} of ${material}`;
      const other = taken.get(at);
      if (other) return `${other.file} and ${row.file} are both taken for the ${at}. Leave one of them out.`;
      taken.set(at, row);
    }
  return "";
}

function TextureRow({
  row,
  character,
  onSet,
}: {
  row: Row;
  character: Character;
  onSet: (change: Partial<Row>) => void;
}): ReactNode {
  const url = useMemo(() => URL.createObjectURL(row.image), [row.image]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  const bare = useMemo(() => withoutCoordinates(row, character), [row, character]);
  return (
    <tr>
      <td>
        <img src={url} alt="" width={30} height={30} className="texture-thumb" />
      </td>
      <td>
        <div className="mono break-words">{row.file}</div>
        <div className="muted">
          {row.width} × {row.height}
          {bare ? `; ${bare} has no texture coordinates` : `; ${row.why}`}
        </div>
      </td>
      <td>
        <SmallSelect
          label={`What ${row.file} is`}
          value={row.use ?? LEFT_OUT}
          onChange={(value) => onSet({ use: value === LEFT_OUT ? null : value, why: "as you said" })}
          options={[...TEXTURE_USES, LEFT_OUT]}
        />
      </td>
      <td>
        <SmallSelect
          label={`Material of ${row.file}`}
          value={row.material ?? ""}
          onChange={(value) => onSet({ material: value, why: "as you said" })}>
          {row.material === null && (
            <MenuItem value="" disabled>
              say which
            </MenuItem>
          )}
          {character.materials.map((m) => (
            <MenuItem key={m.name} value={m.name}>
              {m.name}
            </MenuItem>
          ))}
          <MenuItem value={EVERY}>every material</MenuItem>
        </SmallSelect>
      </td>
    </tr>
  );
}

/** A part of the chosen material that no texture can be shown on; empty where there is none. */
function withoutCoordinates({ material }: Row, { materials, parts }: Character): string {
  const at = materials.findIndex((m) => m.name === material);
  return parts.find((p) => !p.uvs && !p.cornerLook?.uvs && p.groups.some((g) => g.material === at))?.name ?? "";
}
