CREATE TABLE "store_connections" (
	"id" uuid PRIMARY KEY NOT NULL,
	"user_id" text NOT NULL,
	"account" text NOT NULL,
	"tokens" text NOT NULL,
	"trouble" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "store_connections_user_id_unique" UNIQUE("user_id")
);
--> statement-breakpoint
CREATE TABLE "store_sources" (
	"id" uuid PRIMARY KEY NOT NULL,
	"project_id" uuid NOT NULL,
	"connection_id" uuid NOT NULL,
	"file_id" text NOT NULL,
	"file_name" text NOT NULL,
	"path" jsonb NOT NULL,
	"model_id" uuid,
	"model_name" text NOT NULL,
	"discipline" text NOT NULL,
	"follow" boolean NOT NULL,
	"subscription" text,
	"secret" text NOT NULL,
	"newest_version" integer NOT NULL,
	"taken_version" integer,
	"taken_at" timestamp with time zone,
	"revision_id" uuid,
	"trouble" text,
	"looked_at" timestamp with time zone DEFAULT now() NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "store_connections" ADD CONSTRAINT "store_connections_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "store_sources" ADD CONSTRAINT "store_sources_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "store_sources" ADD CONSTRAINT "store_sources_connection_id_store_connections_id_fk" FOREIGN KEY ("connection_id") REFERENCES "public"."store_connections"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "store_sources" ADD CONSTRAINT "store_sources_model_id_models_id_fk" FOREIGN KEY ("model_id") REFERENCES "public"."models"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "store_sources" ADD CONSTRAINT "store_sources_revision_id_revisions_id_fk" FOREIGN KEY ("revision_id") REFERENCES "public"."revisions"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "store_sources_file" ON "store_sources" USING btree ("project_id","file_id");