ALTER TABLE "sites" ADD COLUMN "words" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "desk" json;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "due" text;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "awaiting" integer;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "unproven" integer;