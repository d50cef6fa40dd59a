CREATE TABLE "activities" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"by_id" text NOT NULL,
	"by_name" text NOT NULL,
	"kind" text NOT NULL,
	"subject_id" uuid NOT NULL,
	"text" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "approvals" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"revision_id" uuid NOT NULL,
	"suitability" text,
	"question" text DEFAULT '' NOT NULL,
	"due_on" date,
	"asked_by_id" text NOT NULL,
	"asked_by_name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "approvers" (
	"id" uuid PRIMARY KEY NOT NULL,
	"approval_id" uuid NOT NULL,
	"user_id" text,
	"name" text NOT NULL,
	"email" text NOT NULL,
	"link_id" uuid,
	"answer" text,
	"reasons" text DEFAULT '' NOT NULL,
	"answered_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "attachments" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"comment_id" uuid NOT NULL,
	"name" text NOT NULL,
	"type" text NOT NULL,
	"content" "bytea" NOT NULL,
	"size" integer NOT NULL,
	"width" integer,
	"height" integer,
	"by_id" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "confirmations" (
	"comment_id" uuid NOT NULL,
	"by_id" text NOT NULL,
	"by_name" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "confirmations_comment_id_by_id_pk" PRIMARY KEY("comment_id","by_id")
);
--> statement-breakpoint
CREATE TABLE "daily_mails" (
	"user_id" text PRIMARY KEY NOT NULL,
	"told_until" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "notes" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"owner_id" text NOT NULL,
	"text" text NOT NULL,
	"anchor" jsonb,
	"element_name" text DEFAULT '' NOT NULL,
	"view" jsonb,
	"picture" "bytea",
	"passed_to" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"revisions" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"comment_id" uuid,
	"request_key" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tracked_issues" (
	"comment_id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"issue_id" text NOT NULL,
	"agreed" jsonb NOT NULL,
	"version" integer NOT NULL,
	"notes" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"conflict" jsonb
);
--> statement-breakpoint
CREATE TABLE "trackers" (
	"project_id" uuid PRIMARY KEY NOT NULL,
	"url" text NOT NULL,
	"token" text NOT NULL,
	"cursor" text DEFAULT '' NOT NULL,
	"trouble" text DEFAULT '' NOT NULL,
	"synced_at" timestamp with time zone,
	"told_count" integer DEFAULT -1 NOT NULL,
	"leased_until" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "webhook_deliveries" (
	"webhook_id" uuid NOT NULL,
	"activity_id" uuid NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL,
	"status" integer,
	"trouble" text DEFAULT '' NOT NULL,
	"next_at" timestamp with time zone DEFAULT now() NOT NULL,
	"done_at" timestamp with time zone,
	CONSTRAINT "webhook_deliveries_webhook_id_activity_id_pk" PRIMARY KEY("webhook_id","activity_id")
);
--> statement-breakpoint
CREATE TABLE "webhooks" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"url" text NOT NULL,
	"secret" text NOT NULL,
	"kinds" jsonb NOT NULL,
	"created_by" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "guid" uuid;--> statement-breakpoint
UPDATE "comments" SET "guid" = "id";--> statement-breakpoint
ALTER TABLE "comments" ALTER COLUMN "guid" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "viewpoint_id" uuid;--> statement-breakpoint
ALTER TABLE "meetings" ADD COLUMN "is_held" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "meetings" ADD COLUMN "corrections" jsonb DEFAULT '{"foreword":"","words":{},"left":[]}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "holds_minutes" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "activities" ADD CONSTRAINT "activities_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "approvals" ADD CONSTRAINT "approvals_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "approvals" ADD CONSTRAINT "approvals_revision_id_revisions_id_fk" FOREIGN KEY ("revision_id") REFERENCES "public"."revisions"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "approvers" ADD CONSTRAINT "approvers_approval_id_approvals_id_fk" FOREIGN KEY ("approval_id") REFERENCES "public"."approvals"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "approvers" ADD CONSTRAINT "approvers_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "approvers" ADD CONSTRAINT "approvers_link_id_links_id_fk" FOREIGN KEY ("link_id") REFERENCES "public"."links"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_comment_id_comments_id_fk" FOREIGN KEY ("comment_id") REFERENCES "public"."comments"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "confirmations" ADD CONSTRAINT "confirmations_comment_id_comments_id_fk" FOREIGN KEY ("comment_id") REFERENCES "public"."comments"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "daily_mails" ADD CONSTRAINT "daily_mails_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_owner_id_user_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_comment_id_comments_id_fk" FOREIGN KEY ("comment_id") REFERENCES "public"."comments"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tracked_issues" ADD CONSTRAINT "tracked_issues_comment_id_comments_id_fk" FOREIGN KEY ("comment_id") REFERENCES "public"."comments"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tracked_issues" ADD CONSTRAINT "tracked_issues_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trackers" ADD CONSTRAINT "trackers_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "webhook_deliveries" ADD CONSTRAINT "webhook_deliveries_webhook_id_webhooks_id_fk" FOREIGN KEY ("webhook_id") REFERENCES "public"."webhooks"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "webhook_deliveries" ADD CONSTRAINT "webhook_deliveries_activity_id_activities_id_fk" FOREIGN KEY ("activity_id") REFERENCES "public"."activities"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "webhooks" ADD CONSTRAINT "webhooks_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "activities_project" ON "activities" USING btree ("project_id","at");--> statement-breakpoint
CREATE INDEX "approvals_project" ON "approvals" USING btree ("project_id","created_at");--> statement-breakpoint
CREATE UNIQUE INDEX "approvers_email" ON "approvers" USING btree ("approval_id","email");--> statement-breakpoint
CREATE INDEX "attachments_comment" ON "attachments" USING btree ("comment_id");--> statement-breakpoint
CREATE INDEX "attachments_project" ON "attachments" USING btree ("project_id");--> statement-breakpoint
CREATE INDEX "notes_owner" ON "notes" USING btree ("project_id","owner_id");--> statement-breakpoint
CREATE UNIQUE INDEX "notes_request" ON "notes" USING btree ("project_id","request_key");--> statement-breakpoint
CREATE UNIQUE INDEX "tracked_issues_issue" ON "tracked_issues" USING btree ("project_id","issue_id");--> statement-breakpoint
CREATE INDEX "webhook_deliveries_next" ON "webhook_deliveries" USING btree ("done_at","next_at");--> statement-breakpoint
CREATE INDEX "webhooks_project" ON "webhooks" USING btree ("project_id");--> statement-breakpoint
ALTER TABLE "comments" ADD CONSTRAINT "comments_viewpoint_id_viewpoints_id_fk" FOREIGN KEY ("viewpoint_id") REFERENCES "public"."viewpoints"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "comments_guid" ON "comments" USING btree ("project_id","guid");