ALTER TABLE "models" ADD COLUMN "settings" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "intent" text DEFAULT 'publish' NOT NULL;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "settings" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "content_id" uuid;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_content_id_unique" UNIQUE("content_id");--> statement-breakpoint
UPDATE "revisions" SET "content_id" = "id" WHERE "state" = 'published';--> statement-breakpoint
UPDATE "revisions" SET "report" = '{"frame":{"metresPerUnit":1,"up":"Z","from":"file","reason":""},"withheld":{"elements":0,"newCategories":[]},"leftOut":[],"findings":[],"mended":[]}'::jsonb || "report" WHERE "report" IS NOT NULL;
