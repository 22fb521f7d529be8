CREATE TABLE "own_words" (
	"word" text PRIMARY KEY NOT NULL,
	"phones" text NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sounds" (
	"hash" text PRIMARY KEY NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "sounds" ADD CONSTRAINT "sounds_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE cascade ON UPDATE no action;