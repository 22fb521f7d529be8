CREATE TABLE "blobs" (
	"hash" text PRIMARY KEY NOT NULL,
	"bytes" "bytea" NOT NULL,
	"size" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "characters" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"role" text DEFAULT '' NOT NULL,
	"file_name" text NOT NULL,
	"file_hash" text NOT NULL,
	"base_blob" text NOT NULL,
	"summary" jsonb NOT NULL,
	"head" integer DEFAULT 0 NOT NULL,
	"revision" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "check_runs" (
	"character_id" text NOT NULL,
	"state" text NOT NULL,
	"profile" text NOT NULL,
	"findings" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "check_runs_character_id_state_profile_pk" PRIMARY KEY("character_id","state","profile")
);
--> statement-breakpoint
CREATE TABLE "hand_offs" (
	"id" serial PRIMARY KEY NOT NULL,
	"character_id" text NOT NULL,
	"version" integer NOT NULL,
	"head" integer NOT NULL,
	"state" text NOT NULL,
	"glb_blob" text NOT NULL,
	"sidecar" text NOT NULL,
	"receipt" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "steps" (
	"id" serial PRIMARY KEY NOT NULL,
	"character_id" text NOT NULL,
	"position" integer NOT NULL,
	"step" jsonb NOT NULL,
	"sentence" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "trials" (
	"character_id" text NOT NULL,
	"state" text NOT NULL,
	"motion" text NOT NULL,
	"method" text NOT NULL,
	"rows" jsonb NOT NULL,
	"findings" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "trials_character_id_state_motion_method_pk" PRIMARY KEY("character_id","state","motion","method")
);
--> statement-breakpoint
ALTER TABLE "characters" ADD CONSTRAINT "characters_base_blob_blobs_hash_fk" FOREIGN KEY ("base_blob") REFERENCES "public"."blobs"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "check_runs" ADD CONSTRAINT "check_runs_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_offs" ADD CONSTRAINT "hand_offs_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_offs" ADD CONSTRAINT "hand_offs_glb_blob_blobs_hash_fk" FOREIGN KEY ("glb_blob") REFERENCES "public"."blobs"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "steps" ADD CONSTRAINT "steps_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trials" ADD CONSTRAINT "trials_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "hand_offs_character" ON "hand_offs" USING btree ("character_id");--> statement-breakpoint
CREATE UNIQUE INDEX "steps_place" ON "steps" USING btree ("character_id","position");