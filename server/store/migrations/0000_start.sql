CREATE TABLE "facts" (
	"name" text PRIMARY KEY NOT NULL,
	"value" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "records" (
	"id" serial PRIMARY KEY NOT NULL,
	"site_id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"kind" text NOT NULL,
	"subject" text NOT NULL,
	"initials" text NOT NULL,
	"reading" text NOT NULL,
	"rung" text,
	"seen_from" text NOT NULL,
	"revision" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "revisions" (
	"site_id" text NOT NULL,
	"number" integer NOT NULL,
	"saved_at" timestamp with time zone NOT NULL,
	"plan" json NOT NULL,
	CONSTRAINT "revisions_site_id_number_pk" PRIMARY KEY("site_id","number")
);
--> statement-breakpoint
CREATE TABLE "sites" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"customer" text NOT NULL,
	"town" text NOT NULL,
	"demo" boolean NOT NULL,
	"revision" integer NOT NULL,
	"saved_at" timestamp with time zone NOT NULL,
	"blockers" integer NOT NULL,
	"warnings" integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE "records" ADD CONSTRAINT "records_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "records_site" ON "records" USING btree ("site_id","id");--> statement-breakpoint
CREATE INDEX "sites_saved_at" ON "sites" USING btree ("saved_at" DESC NULLS LAST,"id");