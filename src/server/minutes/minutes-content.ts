import { and, asc, eq, gte, inArray, isNull, lte } from 'drizzle-orm';
import { attendance, momentsOfComments, viewpointsShown, type Attendance } from '@/core/meeting/chronicle';
import type { MinutesCorrections } from '@/core/meeting/minutes-corrections';
import { approvalOf, approvalWords } from '@/core/project/approval';
import { revisionCode } from '@/core/revision-code';
import { db } from '@/db/database';
import type { meetings, projects } from '@/db/schema';
import { comments, confirmations, models, revisions, snapshots, viewpoints } from '@/db/schema';
import { approvalsOf } from '../review/approvals';
import { attachedContents } from '../review/attachments';
import { eventsAfter } from '../review/meeting-log';
import { readMeeting } from '../review/meetings';
import { revisionsOf } from '../review/revisions-then';

type CommentRow = typeof comments.$inferSelect;

/** Something that was said, with what belongs to it. */
export interface Said {
  comment: CommentRow;
  /** Its words as the minutes have them. */
  text: string;
  answers: CommentRow[];
  /** Pictures that go with it or with its answers. */
  pictures: { name: string; content: Buffer }[];
  /** Names of other files. */
  files: string[];
  confirmedBy: string[];
  /** Number of the event by which it was said; null for what came before the meeting's log or after it. */
  moment: number | null;
}

/** Everything that minutes hold. */
export interface MinutesContent {
  meeting: typeof meetings.$inferSelect;
  project: typeof projects.$inferSelect;
  foreword: string;
  present: Attendance[];
  /** Revisions that stood in the meeting, and where their approval stands; null where they were not put up. */
  revisions: { model: string; code: string; note: string; approval: string | null }[];
  /** Viewpoints in the order in which they were shown, each with what was decided. */
  shown: { card: typeof viewpoints.$inferSelect; at: string; moment: number; decisions: Said[] }[];
  said: Said[];
  snapshots: (typeof snapshots.$inferSelect)[];
}

/** Collects what minutes of a meeting hold, as its lead has corrected it. */
export async function minutesContent(meetingId: string): Promise<MinutesContent> {
  const { meeting, project } = await readMeeting(meetingId);
  const events = await eventsAfter(meetingId, 0);
  const corrections: MinutesCorrections = meeting.corrections;
  const [rows, taken] = await Promise.all([
    db()
      .select()
      .from(comments)
      .where(and(eq(comments.meetingId, meetingId), isNull(comments.deletedAt)))
      .orderBy(asc(comments.createdAt), asc(comments.id)),
    db()
      .select()
      .from(snapshots)
      .where(
        and(
          eq(snapshots.projectId, project.id),
          gte(snapshots.createdAt, meeting.startedAt),
          lte(snapshots.createdAt, meeting.endedAt ?? new Date()),
        ),
      )
      .orderBy(asc(snapshots.createdAt)),
  ]);
  const threads = rows.filter(({ id, replyTo }) => replyTo === null && !corrections.left.includes(id));
  const [contents, confirmed] = await Promise.all([
    attachedContents(rows.map(({ id }) => id)),
    threads.length === 0
      ? []
      : db()
          .select()
          .from(confirmations)
          .where(
            inArray(
              confirmations.commentId,
              threads.map(({ id }) => id),
            ),
          )
          .orderBy(asc(confirmations.at)),
  ]);
  const moments = momentsOfComments(events);
  const said = threads.map((comment): Said => {
    const answers = rows.filter(({ replyTo }) => replyTo === comment.id);
    const files = [comment, ...answers].flatMap(({ id }) => contents.get(id) ?? []);
    return {
      comment,
      text: corrections.words[comment.id] ?? comment.text,
      answers,
      pictures: [
        ...answers.flatMap(({ authorName, picture }) => (picture ? [{ name: authorName, content: picture }] : [])),
        ...files.filter(({ width }) => width !== null),
      ],
      files: files.filter(({ width }) => width === null).map(({ name }) => name),
      confirmedBy: confirmed.filter(({ commentId }) => commentId === comment.id).map(({ byName }) => byName),
      moment: moments.get(comment.id) ?? null,
    };
  });
  const opened = viewpointsShown(events);
  const cards =
    opened.length === 0
      ? []
      : await db()
          .select()
          .from(viewpoints)
          .where(
            inArray(
              viewpoints.id,
              opened.map(({ viewpoint }) => viewpoint),
            ),
          );
  const stood = await revisionsOf(project.id, meeting.startedAt, meeting.endedAt ?? new Date());
  return {
    meeting,
    project,
    revisions: await revisionsShown(project.id, [...new Set(stood.flatMap(({ ids }) => ids))]),
    foreword: corrections.foreword,
    present: attendance(events),
    shown: opened.flatMap(({ viewpoint, at, seq }) => {
      const card = cards.find(({ id }) => id === viewpoint);
      const decisions = said.filter(({ comment }) => comment.viewpointId === viewpoint);
      return card ? [{ card, at, moment: seq, decisions }] : [];
    }),
    said,
    snapshots: taken,
  };
}

async function revisionsShown(projectId: string, ids: readonly string[]): Promise<MinutesContent['revisions']> {
  if (ids.length === 0) return [];
  const [rows, asked] = await Promise.all([
    db()
      .select({ id: revisions.id, model: models.name, number: revisions.number, note: revisions.note })
      .from(revisions)
      .innerJoin(models, eq(models.id, revisions.modelId))
      .where(inArray(revisions.id, [...ids]))
      .orderBy(asc(models.createdAt), asc(revisions.number)),
    approvalsOf(projectId),
  ]);
  return rows.map(({ id, model, number, note }) => {
    const approval = approvalOf(asked, id);
    return { model, code: revisionCode(number!), note, approval: approval && approvalWords(approval) };
  });
}
