import { UserError } from "../../core/model/userError";
import type { Db } from "../db/connect";
import { dropChoice, keepChoice, readChoice } from "../services/choices";

const KEY = "tracker";

/** Where the tracker is that pages connect to: one that somebody named, else the stand-in. */
export class TrackerBridge {
  private own: string | null = null;

  /** @param standIn address of the stand-in; null where none runs. */
  constructor(
    private readonly db: Db,
    readonly standIn: string | null,
  ) {}

  async load(): Promise<void> {
    const kept = await readChoice(this.db, KEY);
    this.own = typeof kept === "string" ? kept : null;
  }

  get address(): string | null {
    return this.own ?? this.standIn;
  }
  get named(): string | null {
    return this.own;
  }

  /** @param address as it was typed; null goes back to the stand-in. @throws UserError for one that is none. */
  async name(address: string | null): Promise<void> {
    const read = address === null ? null : bridgeAddress(address);
    if (read === null) await dropChoice(this.db, KEY);
    else await keepChoice(this.db, KEY, read);
    this.own = read;
  }

  /** What pages may connect to beside this server, for the content security policy. */
  get origins(): string[] {
    return [this.own, this.standIn].flatMap((a) => (a ? [originOf(a)] : []));
  }
}

const originOf = (address: string): string => {
  const { protocol, host } = new URL(address);
  return `${protocol}//${host}`;
};

/** The address of a bridge: WebSocket, a host, a port. @throws UserError for anything else. */
export function bridgeAddress(text: string): string {
  let url: URL;
  try {
    url = new URL(text.trim());
  } catch {
    throw notAnAddress(text);
  }
  const plain = !url.username && !url.password && !url.hash && /^[a-z0-9.[\]:-]+$/i.test(url.host);
  if (!/^wss?:$/.test(url.protocol) || !plain) throw notAnAddress(text);
  return url.href;
}
const notAnAddress = (text: string): UserError =>
  new UserError(
    `"${text.slice(0, 80)}" is no address of a tracker.`,
    "",
    "Write it as ws://127.0.0.1:4190, with the host and port where the bridge listens.",
  );
