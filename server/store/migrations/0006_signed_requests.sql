ALTER TABLE "sign_ins" ADD COLUMN "key" text;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "deleted_on_day" integer;--> statement-breakpoint
ALTER TABLE "vault_trash" ADD COLUMN "deleted_on_day" integer DEFAULT 0 NOT NULL;