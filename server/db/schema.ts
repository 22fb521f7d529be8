import {
  bigint,
  customType,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  text,
  timestamp,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import type { Finding } from "../../core/checks/finding";
import type { DeliveryComparison } from "../../core/ledger/compareDeliveries";
import type { ReplayedStep } from "../../core/ledger/replay";
import type { Step } from "../../core/ledger/steps";
import type { SweepRow } from "../../core/measure/sweepMotion";
import type { ChannelMap } from "../../core/tracking/channelMap";
import type { Trial } from "../../core/trials/trial";
import type { Receipt } from "../services/handOffs";

const bytea = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => "bytea",
  toDriver: (value) => Buffer.from(value.buffer, value.byteOffset, value.byteLength),
  fromDriver: (value) => new Uint8Array(value.buffer, value.byteOffset, value.byteLength),
});
const at = (name: string) => timestamp(name, { withTimezone: true }).notNull().defaultNow();

/** Content-addressed geometry: the name of a blob is the sha256 of its bytes. */
export const blobs = pgTable("blobs", {
  hash: text("hash").primaryKey(),
  size: bigint("size", { mode: "number" }).notNull(),
  createdAt: at("created_at"),
});

/**
 * The bytes of blobs, cut so that no query holds more than one piece; all pieces of a blob but the last are of one
 * length.
 */
export const blobChunks = pgTable(
  "blob_chunks",
  {
    hash: text("hash")
      .notNull()
      .references(() => blobs.hash, { onDelete: "cascade" }),
    piece: integer("piece").notNull(),
    bytes: bytea("bytes").notNull(),
  },
  (t) => [primaryKey({ columns: [t.hash, t.piece] })],
);

/** What the program remembers about this database itself. */
export const settings = pgTable("settings", { key: text("key").primaryKey(), value: jsonb("value").notNull() });

/** Facts of a delivery that pages show without reading its geometry. */
export interface DeliverySummary {
  readonly vertices: number;
  readonly triangles: number;
  readonly joints: number;
  readonly shapes: number;
  /** Correctives it came with; absent in rows from before this was counted. */
  readonly correctives?: number;
  readonly stature: number;
  readonly notes: readonly string[];
}

export const characters = pgTable("characters", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  role: text("role").notNull().default(""),
  fileName: text("file_name").notNull(),
  fileHash: text("file_hash").notNull(),
  baseBlob: text("base_blob")
    .notNull()
    .references(() => blobs.hash),
  summary: jsonb("summary").$type<DeliverySummary>().notNull(),
  /** Number of ledger steps in force; later ones are undone and may be redone. */
  head: integer("head").notNull().default(0),
  /** Counts every change of the ledger, so that two windows notice each other. */
  revision: integer("revision").notNull().default(0),
  createdAt: at("created_at"),
  changedAt: at("changed_at"),
});

/**
 * Deliveries that a character has had after its first, with what the ledger made of each; and what stood before, so
 * that one can go back.
 */
export const deliveries = pgTable(
  "deliveries",
  {
    id: serial("id").primaryKey(),
    characterId: text("character_id")
      .notNull()
      .references(() => characters.id, { onDelete: "cascade" }),
    fileName: text("file_name").notNull(),
    comparison: jsonb("comparison").$type<DeliveryComparison>().notNull(),
    replayed: jsonb("replayed").$type<ReplayedStep[]>().notNull(),
    /** The character's row and steps as they were before this delivery. */
    before: jsonb("before").$type<BeforeDelivery>().notNull(),
    beforeBlob: text("before_blob")
      .notNull()
      .references(() => blobs.hash),
    createdAt: at("created_at"),
  },
  (t) => [index("deliveries_character").on(t.characterId)],
);

export interface BeforeDelivery {
  readonly fileName: string;
  readonly fileHash: string;
  readonly summary: DeliverySummary;
  readonly head: number;
  readonly steps: readonly Step[];
}

export const steps = pgTable(
  "steps",
  {
    id: serial("id").primaryKey(),
    characterId: text("character_id")
      .notNull()
      .references(() => characters.id, { onDelete: "cascade" }),
    position: integer("position").notNull(),
    step: jsonb("step").$type<Step>().notNull(),
    sentence: text("sentence").notNull(),
    createdAt: at("created_at"),
  },
  (t) => [uniqueIndex("steps_place").on(t.characterId, t.position)],
);

/** Keys of the steps that were taken: one that comes again with its key is answered, not applied twice. */
export const stepKeys = pgTable(
  "step_keys",
  {
    characterId: text("character_id")
      .notNull()
      .references(() => characters.id, { onDelete: "cascade" }),
    key: text("key").notNull(),
    /** sha256 of the step, so that a key is not taken for another one. */
    stepHash: text("step_hash").notNull(),
    revision: integer("revision").notNull(),
    createdAt: at("created_at"),
  },
  (t) => [primaryKey({ columns: [t.characterId, t.key] })],
);

/**
 * Ledgers that were left: the steps that stood before a change was made further back, or before a delivery was dropped.
 */
export const branches = pgTable(
  "branches",
  {
    id: serial("id").primaryKey(),
    characterId: text("character_id")
      .notNull()
      .references(() => characters.id, { onDelete: "cascade" }),
    /** The delivery that the steps stand on. */
    baseBlob: text("base_blob").notNull(),
    fileName: text("file_name").notNull(),
    /** All steps from the base on; those before `fork` were shared with the ledger that went on. */
    steps: jsonb("steps").$type<Step[]>().notNull(),
    fork: integer("fork").notNull(),
    createdAt: at("created_at"),
  },
  (t) => [index("branches_character").on(t.characterId)],
);

/** Findings of one state of a character under one profile. */
export const checkRuns = pgTable(
  "check_runs",
  {
    characterId: text("character_id")
      .notNull()
      .references(() => characters.id, { onDelete: "cascade" }),
    state: text("state").notNull(),
    profile: text("profile").notNull(),
    findings: jsonb("findings").$type<Finding[]>().notNull(),
    createdAt: at("created_at"),
  },
  (t) => [primaryKey({ columns: [t.characterId, t.state, t.profile] })],
);

/** Sweeps that were run, one for each motion and state. */
export const trials = pgTable(
  "trials",
  {
    characterId: text("character_id")
      .notNull()
      .references(() => characters.id, { onDelete: "cascade" }),
    state: text("state").notNull(),
    motion: text("motion").notNull(),
    method: text("method").notNull(),
    rows: jsonb("rows").$type<SweepRow[]>().notNull(),
    findings: jsonb("findings").$type<Finding[]>().notNull(),
    createdAt: at("created_at"),
  },
  (t) => [primaryKey({ columns: [t.characterId, t.state, t.motion, t.method] })],
);

/** Arrangements of pieces on the lanes: played on any version of any character. */
export const arrangements = pgTable("arrangements", {
  id: text("id").primaryKey(),
  /** The character that it was made with. */
  characterId: text("character_id")
    .notNull()
    .references(() => characters.id, { onDelete: "cascade" }),
  trial: jsonb("trial").$type<Trial>().notNull(),
  /** Counts its changes, so that a window knows of another's. */
  revision: integer("revision").notNull().default(1),
  changedAt: at("changed_at"),
});

export const handOffs = pgTable(
  "hand_offs",
  {
    id: serial("id").primaryKey(),
    characterId: text("character_id")
      .notNull()
      .references(() => characters.id, { onDelete: "cascade" }),
    version: integer("version").notNull(),
    head: integer("head").notNull(),
    state: text("state").notNull(),
    glbBlob: text("glb_blob")
      .notNull()
      .references(() => blobs.hash),
    sidecar: text("sidecar").notNull(),
    receipt: jsonb("receipt").$type<Receipt>().notNull(),
    createdAt: at("created_at"),
  },
  (t) => [uniqueIndex("hand_offs_version").on(t.characterId, t.version)],
);

/** Sounds of spoken lines and takes as they came: kept while a trial names them, and for two days in any case. */
export const sounds = pgTable("sounds", {
  hash: text("hash")
    .primaryKey()
    .references(() => blobs.hash, { onDelete: "cascade" }),
  seenAt: at("seen_at"),
});

/** Pronunciations of one's own, for every line that is spoken here: plain words and their phones. */
export const ownWords = pgTable("own_words", {
  word: text("word").primaryKey(),
  phones: text("phones").notNull(),
  changedAt: at("changed_at"),
});

/** What this server is told to use, by name. */
export const choices = pgTable("choices", {
  key: text("key").primaryKey(),
  value: jsonb("value").$type<unknown>().notNull(),
  changedAt: at("changed_at"),
});

/** Which shapes the channels of a tracker move, named, for every character and take to come. */
export const channelMaps = pgTable("channel_maps", {
  name: text("name").primaryKey(),
  map: jsonb("map").$type<ChannelMap>().notNull(),
  changedAt: at("changed_at"),
});
