ALTER TABLE "revisions" DROP CONSTRAINT "revisions_content_id_unique";--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "withdrawn_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "withdrawn_by" text;--> statement-breakpoint
CREATE INDEX "revisions_content" ON "revisions" USING btree ("content_id");