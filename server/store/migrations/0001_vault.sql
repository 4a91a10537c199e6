CREATE TABLE "vault" (
	"id" integer PRIMARY KEY NOT NULL,
	"salt" text NOT NULL,
	"cost" json NOT NULL,
	"sealed_key" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "vault_secrets" (
	"site_id" text NOT NULL,
	"name" text NOT NULL,
	"sealed" text NOT NULL,
	CONSTRAINT "vault_secrets_site_id_name_pk" PRIMARY KEY("site_id","name")
);
--> statement-breakpoint
ALTER TABLE "vault_secrets" ADD CONSTRAINT "vault_secrets_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE cascade ON UPDATE no action;