CREATE TABLE "link_openings" (
	"id" uuid PRIMARY KEY NOT NULL,
	"link_id" uuid NOT NULL,
	"guest_id" uuid NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "snapshots" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"name" text NOT NULL,
	"group" text DEFAULT '' NOT NULL,
	"picture" "bytea" NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"author_name" text NOT NULL,
	"request_key" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "links" ADD COLUMN "passphrase_hash" text;--> statement-breakpoint
ALTER TABLE "links" ADD COLUMN "viewpoint_id" uuid;--> statement-breakpoint
ALTER TABLE "links" ADD COLUMN "sent_to" text;--> statement-breakpoint
ALTER TABLE "links" ADD COLUMN "warned_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "site" jsonb;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "picture_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "author_id" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "is_shared" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "group" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "question" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "minutes" integer;--> statement-breakpoint
ALTER TABLE "viewpoints" ADD COLUMN "parts" jsonb;--> statement-breakpoint
ALTER TABLE "link_openings" ADD CONSTRAINT "link_openings_link_id_links_id_fk" FOREIGN KEY ("link_id") REFERENCES "public"."links"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "link_openings" ADD CONSTRAINT "link_openings_guest_id_guests_id_fk" FOREIGN KEY ("guest_id") REFERENCES "public"."guests"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "snapshots" ADD CONSTRAINT "snapshots_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "link_openings_link" ON "link_openings" USING btree ("link_id","at");--> statement-breakpoint
CREATE INDEX "snapshots_project" ON "snapshots" USING btree ("project_id","created_at");--> statement-breakpoint
CREATE UNIQUE INDEX "snapshots_request" ON "snapshots" USING btree ("project_id","request_key");--> statement-breakpoint
ALTER TABLE "links" ADD CONSTRAINT "links_viewpoint_id_viewpoints_id_fk" FOREIGN KEY ("viewpoint_id") REFERENCES "public"."viewpoints"("id") ON DELETE set null ON UPDATE no action;