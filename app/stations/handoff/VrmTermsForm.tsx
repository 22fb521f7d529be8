import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { SmallSwitch } from "../../ui/SmallSwitch";
import { CLOSEST_TERMS, vrmTerms, vrmTermsSchema, type VrmTerms } from "~core/formats/vrm/vrmTerms";
import type { Character } from "~core/model/character";
import { useDesk } from "../../session/useDesk";

const CHOICES = {
  avatarPermission: {
    label: "may be worn by",
    onlyAuthor: "its author only",
    onlySeparatelyLicensedPerson: "those who are licensed separately",
    everyone: "everyone",
  },
  commercialUsage: {
    label: "may earn",
    personalNonProfit: "nothing",
    personalProfit: "money for persons",
    corporation: "money for companies too",
  },
  creditNotation: { label: "credit is", required: "required", unnecessary: "not necessary" },
  modification: {
    label: "changes are",
    prohibited: "not allowed",
    allowModification: "allowed",
    allowModificationRedistribution: "allowed and may be passed on",
  },
} as const;
const YES_NO = {
  allowRedistribution: "passing it on",
  allowExcessivelyViolentUsage: "excessively violent uses",
  allowExcessivelySexualUsage: "excessively sexual uses",
  allowPoliticalOrReligiousUsage: "political or religious uses",
  allowAntisocialOrHateUsage: "antisocial or hateful uses",
} as const;
const TEXTS = {
  authors: "Authors, with commas",
  copyrightInformation: "Copyright",
  contactInformation: "Contact",
  version: "Version of the model",
  licenseUrl: "Address of the licence",
  otherLicenseUrl: "Address of another licence",
} as const;
type Text = keyof typeof TEXTS;

const said = (character: Character): boolean =>
  Object.keys(character.vrm?.meta ?? {}).some((key) => key in CLOSEST_TERMS);

/** Authors, licence and permissions that the VRM is written with; one step in the ledger. */
export function VrmTermsForm({ character }: { character: Character }): ReactNode {
  const { addStep } = useDesk();
  const now = vrmTerms(character);
  const [open, setOpen] = useState(false);
  const [terms, setTerms] = useState<VrmTerms>(now);
  const [authors, setAuthors] = useState(said(character) ? now.authors.join(", ") : "");
  const set = (to: Partial<VrmTerms>): void => setTerms({ ...terms, ...to });
  const whole = {
    ...terms,
    authors: authors
      .split(",")
      .map((a) => a.trim())
      .filter(Boolean),
  };
  const read = vrmTermsSchema.safeParse(whole);
  const wrong = read.success ? null : String(read.error.issues[0]?.path[0]);
  const keep = async (): Promise<void> => {
    if (read.success && (await addStep({ op: "vrm terms", terms: read.data }))) setOpen(false);
  };
  return (
    <div className="mt-10 max-w-560" role="group" aria-label="Terms of the VRM">
      <div className="line t-small">
        <span className="grow">
          VRM:{" "}
          {said(character)
            ? `by ${now.authors.join(", ")}; may be worn by ${CHOICES.avatarPermission[now.avatarPermission]}`
            : "no author is named; it would be written with the closest terms"}
        </span>
        <Button aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Authors and terms"}
        </Button>
      </div>
      {open && (
        <div
          style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: "8px 14px", fontSize: 12.5, paddingTop: 6 }}>
          {(Object.keys(TEXTS) as Text[]).map((key) => (
            <TextField
              key={key}
              label={TEXTS[key]}
              size="small"
              value={key === "authors" ? authors : terms[key]}
              error={wrong === key}
              helperText={
                wrong === key ? (key === "authors" ? "Name at least one." : "This is no address.") : undefined
              }
              onChange={(e) => (key === "authors" ? setAuthors(e.target.value) : set({ [key]: e.target.value }))}
              slotProps={{ htmlInput: { maxLength: 500 } }}
            />
          ))}
          {(Object.keys(CHOICES) as (keyof typeof CHOICES)[]).map((key) => (
            <label key={key} className="line gap-6">
              {CHOICES[key].label}
              <SmallSelect label={CHOICES[key].label} value={terms[key]} onChange={(value) => set({ [key]: value })}>
                {Object.entries(CHOICES[key])
                  .filter(([k]) => k !== "label")
                  .map(([value, words]) => (
                    <MenuItem key={value} value={value}>
                      {words}
                    </MenuItem>
                  ))}
              </SmallSelect>
            </label>
          ))}
          {(Object.keys(YES_NO) as (keyof typeof YES_NO)[]).map((key) => (
            <SmallSwitch
              key={key}
              label={`${YES_NO[key]}: ${terms[key] ? "allowed" : "not allowed"}`}
              checked={terms[key]}
              onChange={(on) => set({ [key]: on })}
            />
          ))}
          <div style={{ gridColumn: "1 / -1" }}>
            <Button variant="contained" disabled={!read.success} onClick={() => void keep()}>
              Keep these terms
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}
