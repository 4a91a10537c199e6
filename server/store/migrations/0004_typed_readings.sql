ALTER TABLE "records" ADD COLUMN "values" json;--> statement-breakpoint
ALTER TABLE "records" ADD COLUMN "parts" json;