CREATE TABLE "store_leftovers" (
	"key" text PRIMARY KEY NOT NULL,
	"due_at" timestamp with time zone NOT NULL,
	"is_given_up" boolean DEFAULT false NOT NULL
);
