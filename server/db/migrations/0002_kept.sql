CREATE TABLE "blob_chunks" (
	"hash" text NOT NULL,
	"piece" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "blob_chunks_hash_piece_pk" PRIMARY KEY("hash","piece")
);
--> statement-breakpoint
ALTER TABLE "blob_chunks" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;
--> statement-breakpoint
CREATE TABLE "branches" (
	"id" serial PRIMARY KEY NOT NULL,
	"character_id" text NOT NULL,
	"base_blob" text NOT NULL,
	"file_name" text NOT NULL,
	"steps" jsonb NOT NULL,
	"fork" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "settings" (
	"key" text PRIMARY KEY NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "step_keys" (
	"character_id" text NOT NULL,
	"key" text NOT NULL,
	"step_hash" text NOT NULL,
	"revision" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "step_keys_character_id_key_pk" PRIMARY KEY("character_id","key")
);
--> statement-breakpoint
DROP INDEX "hand_offs_character";--> statement-breakpoint
ALTER TABLE "blobs" ALTER COLUMN "size" SET DATA TYPE bigint;--> statement-breakpoint
ALTER TABLE "blob_chunks" ADD CONSTRAINT "blob_chunks_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "branches" ADD CONSTRAINT "branches_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "step_keys" ADD CONSTRAINT "step_keys_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "branches_character" ON "branches" USING btree ("character_id");--> statement-breakpoint
UPDATE "hand_offs" SET "version" = "numbered"."version" FROM (SELECT "id", row_number() OVER (PARTITION BY "character_id" ORDER BY "version", "id") AS "version" FROM "hand_offs") AS "numbered" WHERE "hand_offs"."id" = "numbered"."id" AND "hand_offs"."version" <> "numbered"."version";--> statement-breakpoint
CREATE UNIQUE INDEX "hand_offs_version" ON "hand_offs" USING btree ("character_id","version");--> statement-breakpoint
INSERT INTO "blob_chunks" SELECT "hash", "piece", substring("bytes" FROM "piece" * 4194304 + 1 FOR 4194304) FROM "blobs", generate_series(0, greatest(("size" - 1) / 4194304, 0)::integer) AS "piece";--> statement-breakpoint
ALTER TABLE "blobs" DROP COLUMN "bytes";