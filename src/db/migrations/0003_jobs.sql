CREATE TABLE "notices" (
	"id" uuid PRIMARY KEY NOT NULL,
	"user_id" text NOT NULL,
	"project_id" uuid NOT NULL,
	"revision_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"reason" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"seen_at" timestamp with time zone,
	"mailed_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "queued_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
UPDATE "revisions" SET "queued_at" = "created_at";--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "stage_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "ended_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "worker" text;--> statement-breakpoint
ALTER TABLE "notices" ADD CONSTRAINT "notices_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notices" ADD CONSTRAINT "notices_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notices" ADD CONSTRAINT "notices_revision_id_revisions_id_fk" FOREIGN KEY ("revision_id") REFERENCES "public"."revisions"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "notices_user" ON "notices" USING btree ("user_id","created_at");--> statement-breakpoint
CREATE INDEX "revisions_project" ON "revisions" USING btree ("project_id","queued_at");--> statement-breakpoint
CREATE INDEX "revisions_ended" ON "revisions" USING btree ("ended_at");