ALTER TABLE "revisions" ADD COLUMN "beat_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "attempts" integer DEFAULT 0 NOT NULL;