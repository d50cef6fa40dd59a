CREATE TABLE "answered_requests" (
	"key" text PRIMARY KEY NOT NULL,
	"about" text NOT NULL,
	"status" integer,
	"body" jsonb,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE INDEX "answered_requests_at" ON "answered_requests" USING btree ("at");