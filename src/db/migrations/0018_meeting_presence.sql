CREATE TABLE "meeting_presence" (
	"meeting_id" uuid NOT NULL,
	"participant" text NOT NULL,
	"node" uuid NOT NULL,
	"seen_at" timestamp with time zone NOT NULL,
	CONSTRAINT "meeting_presence_meeting_id_participant_node_pk" PRIMARY KEY("meeting_id","participant","node")
);
--> statement-breakpoint
ALTER TABLE "meeting_presence" ADD CONSTRAINT "meeting_presence_meeting_id_meetings_id_fk" FOREIGN KEY ("meeting_id") REFERENCES "public"."meetings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "meeting_presence_node" ON "meeting_presence" USING btree ("node");