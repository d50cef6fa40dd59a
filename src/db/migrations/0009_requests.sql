ALTER TABLE "comments" ADD COLUMN "request_key" text;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "request_key" text;--> statement-breakpoint
CREATE UNIQUE INDEX "comments_request" ON "comments" USING btree ("project_id","request_key");--> statement-breakpoint
CREATE UNIQUE INDEX "viewpoints_request" ON "viewpoints" USING btree ("project_id","request_key");