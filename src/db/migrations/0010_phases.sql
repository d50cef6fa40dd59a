ALTER TABLE "revisions" RENAME COLUMN "stage" TO "phase";--> statement-breakpoint
ALTER TABLE "revisions" RENAME COLUMN "stage_at" TO "phase_at";
