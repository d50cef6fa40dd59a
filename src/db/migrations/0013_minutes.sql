ALTER TABLE "guests" ADD COLUMN "email" text;--> statement-breakpoint
ALTER TABLE "meetings" ADD COLUMN "minutes_sent_at" timestamp with time zone;
--> statement-breakpoint
-- What ended before minutes were mailed is not mailed now.
UPDATE "meetings" SET "minutes_sent_at" = "ended_at" WHERE "ended_at" IS NOT NULL;
