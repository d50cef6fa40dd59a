CREATE TABLE "option_sets" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"name" text NOT NULL,
	"options" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "links" ADD COLUMN "options" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "models" ADD COLUMN "placement" jsonb DEFAULT '{"by":"file"}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "option_sets" ADD CONSTRAINT "option_sets_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "option_sets_project" ON "option_sets" USING btree ("project_id");