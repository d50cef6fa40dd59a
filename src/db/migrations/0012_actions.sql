CREATE TABLE "comment_changes" (
	"id" uuid PRIMARY KEY NOT NULL,
	"comment_id" uuid NOT NULL,
	"by_name" text NOT NULL,
	"by_id" text NOT NULL,
	"changes" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "kind" text DEFAULT 'remark' NOT NULL;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "assignee_id" text;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "assignee_name" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "assignee_email" text;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "due_on" date;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "priority" text DEFAULT 'normal' NOT NULL;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "reminded_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "edited_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "comments" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "comment_changes" ADD CONSTRAINT "comment_changes_comment_id_comments_id_fk" FOREIGN KEY ("comment_id") REFERENCES "public"."comments"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "comment_changes_comment" ON "comment_changes" USING btree ("comment_id");--> statement-breakpoint
ALTER TABLE "comments" ADD CONSTRAINT "comments_assignee_id_user_id_fk" FOREIGN KEY ("assignee_id") REFERENCES "public"."user"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "comments_assignee" ON "comments" USING btree ("assignee_id");