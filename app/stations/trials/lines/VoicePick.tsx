import type { ReactNode } from "react";
import { VOICE_NAMES, type Voice } from "../../../session/speech";
import { SmallSelect } from "../../../ui/SmallSelect";

interface VoicePickProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (voice: Voice) => void;
}
/** The voices that ship with the program. */
export const VoicePick = ({ label, value, onChange }: VoicePickProps): ReactNode => (
  <SmallSelect
    label={label}
    value={value as Voice}
    onChange={onChange}
    size={13}
    options={Object.keys(VOICE_NAMES) as Voice[]}
    words={(id) => VOICE_NAMES[id]}
  />
);
