CREATE TABLE "deliveries" (
	"id" serial PRIMARY KEY NOT NULL,
	"character_id" text NOT NULL,
	"file_name" text NOT NULL,
	"comparison" jsonb NOT NULL,
	"replayed" jsonb NOT NULL,
	"before" jsonb NOT NULL,
	"before_blob" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "deliveries" ADD CONSTRAINT "deliveries_character_id_characters_id_fk" FOREIGN KEY ("character_id") REFERENCES "public"."characters"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deliveries" ADD CONSTRAINT "deliveries_before_blob_blobs_hash_fk" FOREIGN KEY ("before_blob") REFERENCES "public"."blobs"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "deliveries_character" ON "deliveries" USING btree ("character_id");