CREATE TABLE "arrangements" (
	"id" text PRIMARY KEY NOT NULL,
	"character_id" text NOT NULL,
	"trial" jsonb NOT NULL,
	"revision" integer DEFAULT 1 NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "arrangements" ADD CONSTRAINT "arrangements_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;