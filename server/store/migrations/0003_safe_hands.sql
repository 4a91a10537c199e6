CREATE TABLE "kept_revisions" (
	"site_id" text NOT NULL,
	"number" integer NOT NULL,
	"why" text NOT NULL,
	CONSTRAINT "kept_revisions_site_id_number_why_pk" PRIMARY KEY("site_id","number","why")
);
--> statement-breakpoint
CREATE TABLE "sign_ins" (
	"id" text PRIMARY KEY NOT NULL,
	"token_hash" text NOT NULL,
	"label" text NOT NULL,
	"account" integer,
	"started_at" timestamp with time zone NOT NULL,
	"used_at" timestamp with time zone NOT NULL,
	CONSTRAINT "sign_ins_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "vault_trash" (
	"id" serial PRIMARY KEY NOT NULL,
	"site_id" text NOT NULL,
	"name" text NOT NULL,
	"sealed" text NOT NULL,
	"deleted_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
DROP INDEX "sites_saved_at";--> statement-breakpoint
ALTER TABLE "sites" ALTER COLUMN "blockers" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ALTER COLUMN "warnings" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "touched" bigint;--> statement-breakpoint
UPDATE "sites" SET "touched" = "ordered"."place" FROM (SELECT "id", row_number() OVER (ORDER BY "saved_at", "id" DESC) AS "place" FROM "sites") AS "ordered" WHERE "sites"."id" = "ordered"."id";--> statement-breakpoint
ALTER TABLE "sites" ALTER COLUMN "touched" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "kept_revisions" ADD CONSTRAINT "kept_revisions_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "vault_trash" ADD CONSTRAINT "vault_trash_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "sites_touched" ON "sites" USING btree ("touched" DESC NULLS LAST);