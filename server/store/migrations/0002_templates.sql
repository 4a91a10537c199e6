CREATE TABLE "templates" (
	"name" text PRIMARY KEY NOT NULL,
	"uplink" json NOT NULL
);
