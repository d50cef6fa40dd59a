UPDATE "meetings" SET "ended_at" = now() WHERE "ended_at" IS NULL AND "id" NOT IN (SELECT DISTINCT ON ("project_id") "id" FROM "meetings" WHERE "ended_at" IS NULL ORDER BY "project_id", "started_at" DESC, "id" DESC);--> statement-breakpoint
CREATE UNIQUE INDEX "meetings_running" ON "meetings" USING btree ("project_id") WHERE "meetings"."ended_at" is null;
