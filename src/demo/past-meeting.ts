import { eq, inArray, sql } from 'drizzle-orm';
import sharp from 'sharp';
import { INK_COLOURS, PEN_WIDTHS, type Mark } from '@/core/mark/marks';
import { markShape } from '@/core/mark/shapes';
import type { Measure } from '@/core/measure/measures';
import type { CommentChange } from '@/core/project/comment';
import { INITIAL_VIEW, type ViewChange, type ViewState } from '@/core/view/view-state';
import { db } from '@/db/database';
import { activities, commentChanges, comments, confirmations, meetingEvents, meetings, revisions } from '@/db/schema';
import { GUEST_COOKIE, actorOf, type Actor } from '@/server/access/access';
import { askForApproval, answerApproval, listApprovals } from '@/server/review/approvals';
import { changeComment } from '@/server/review/comment-changes';
import { say } from '@/server/review/comments';
import { confirmDecision } from '@/server/review/decisions';
import { settle } from '@/server/review/meeting-log';
import { enterByCode, participantFor, startMeeting } from '@/server/review/meetings';
import { takeNote } from '@/server/review/notes';

/** A viewpoint of the running order with its picture. */
export interface PicturedView {
  id: string;
  view: ViewState;
  picture: Buffer;
}

interface Cast {
  ines: Actor;
  mikko: Actor;
  sunniva: Actor;
}

const DAY = 24 * 60 * 60 * 1000;
/** The meeting was held so many days ago, at two in the afternoon UTC. */
const HELD_DAYS = 3;
/** When revisions were published, in days before now, by model and number. */
const PUBLISHED: Record<string, number> = {
  'Architecture 1': 21,
  'Structure 1': 18,
  'Building services 1': 16,
  'Architecture 2': 8,
  'Hall roof, vaulted 1': 7,
  'Architecture 3': 1,
};

/** A day so many days from now, such as 2026-12-24. */
const dayIn = (days: number) => new Date(Date.now() + days * DAY).toISOString().slice(0, 10);

const cloud = (view: ViewState, by: Actor, points: Mark['points'], ink: Mark['ink'] = 'madder'): Mark => ({
  id: `demo ${points.join(' ')}`,
  kind: 'cloud',
  ink,
  pen: 'medium',
  points,
  pressures: [],
  text: '',
  camera: view.camera,
  by: { id: by.id, name: by.name },
});

/**
 * Holds the meeting that the demo has in its past, through the real services: guests, viewpoints with questions, marks and
 * measures, decisions and who confirmed them, actions in every state, a note, a running approval. Then everything is moved
 * to when it would have been.
 */
export async function holdPastMeeting(
  projectId: string,
  cast: Cast,
  views: ReadonlyMap<string, PicturedView>,
): Promise<void> {
  const { ines, mikko, sunniva } = cast;
  const meeting = await startMeeting(ines, projectId, 'Design review 2');
  // Its minutes are made when all stands where it would have been.
  await db().update(meetings).set({ isHeld: true }).where(eq(meetings.id, meeting.id));
  const herta = await guest(meeting.code!, 'Herta Lindqvist', 'herta@lindenau-library.example');
  const jonas = await guest(meeting.code!, 'Jonas Adeyemi', 'jonas@lindenau.example');
  const stage = new Stage(meeting.id, projectId, views);

  await stage.join(0.5, ines);
  await stage.join(1, mikko);
  await stage.join(1.5, sunniva);
  await stage.join(2, herta);
  await stage.join(2.2, jonas);

  await stage.open(3, ines, 'Arriving');
  await stage.turn(4, ines, { camera: { position: [18, -14, 2.4], target: [26, 8, 3], fov: 50 } });
  const bench = await stage.say(
    5,
    jonas,
    'Where do people wait when it rains? I would put the bench under the roof.',
    {},
  );
  await stage.answer(6, sunniva, bench, 'The eaves are 1.4 m deep there: a bench of 45 cm stays dry.');

  await stage.open(8, ines, 'The court');
  await stage.draw(9, herta, 'The court', [-0.35, -0.1, 0.3, 0.42]);
  const open = await stage.say(10, herta, 'From here the hall looks closed. Can this bay be glass as well?', {
    kind: 'question',
  });
  await stage.answer(11, ines, open, '@Mikko can the last frame carry glass?');
  await stage.decide(13, ines, 'The court', 'The last bay of the hall is glazed towards the court.', [
    mikko,
    sunniva,
    herta,
    jonas,
  ]);

  await stage.open(15, ines, 'Hall roof');
  await stage.turn(16, ines, { options: {} });
  await stage.say(
    17,
    jonas,
    'The folded roof is what the council voted for, because of the sun in the evening. 👍',
    {},
  );
  await stage.decide(20, ines, 'Hall roof', 'The hall keeps the folded roof.', [mikko, sunniva, herta, jonas]);
  await stage.leave(22, jonas);

  await stage.open(23, ines, 'Reading hall');
  const lamps = await stage.say(24, mikko, 'Hang the lamps 30 cm lower, so that the folds stay dark.', {
    kind: 'action', assignee: { id: sunniva.id }, dueOn: dayIn(5), priority: 'high',
  }); // prettier-ignore
  await stage.open(26, ines, "Children's corner");
  const sill = await stage.say(27, herta, 'A child of four does not see out here. The sill is too high.', {});
  await stage.answer(28, mikko, sill, 'It is at 90 cm now; 55 cm and a fixed pane would do.');
  const lower = await stage.say(29, ines, 'Lower the sill to 55 cm and fix the lower pane.', {
    kind: 'action', assignee: { id: mikko.id }, dueOn: dayIn(-1), priority: 'normal',
  }); // prettier-ignore

  await stage.open(31, ines, 'Plant room');
  await stage.measure(32, ines, WAY);
  const hatch = await stage.say(33, sunniva, 'There has to be 80 cm in front of the tanks. Ask the maker for the smaller ones.', {
    kind: 'action', assignee: { email: 'hello@tamm-heating.example' }, dueOn: dayIn(12), priority: 'normal',
  }); // prettier-ignore
  const survey = await stage.say(35, ines, 'Send the survey of the old cellar to the structural engineer.', {
    kind: 'action', assignee: { id: ines.id }, dueOn: dayIn(-2), priority: 'low',
  }); // prettier-ignore
  const signs = await stage.say(36, herta, 'השילוט צריך להיות גם בעברית וגם بالعربية, as in the old library.', {
    kind: 'question',
  });
  await stage.end(38);

  // What became of it since.
  const later = (days: number, hours = 10) => HELD_DAYS * 24 * 60 - days * 24 * 60 + (hours - 14) * 60;
  await stage.change(later(2), sunniva, lamps, { status: 'in-work' });
  await stage.change(later(1, 9), mikko, lower, { status: 'answered' });
  await stage.answer(later(1, 9.2), mikko, lower, 'Drawn in P03. Please look at it from 1.10 m.');
  await stage.change(later(1, 15), ines, survey, { status: 'closed' });
  await stage.change(later(2, 16), ines, bench, { status: 'closed' });
  await stage.change(later(1, 16), ines, bench, { status: 'open' });
  await stage.answer(later(1, 17), ines, signs, 'Yes, on all doors and in the lift.');
  await stage.change(later(1, 17.2), ines, hatch, { priority: 'high' });

  await takeNote(ines, projectId, {
    text: 'Ask Herta quietly whether the children’s library can open an hour earlier.',
    view: views.get("Children's corner")!.view,
    picture: views.get("Children's corner")!.picture,
  });
  await putUpForApproval(projectId, cast);
  await stage.moveIntoThePast();
}

async function putUpForApproval(projectId: string, { ines, mikko, sunniva }: Cast): Promise<void> {
  const [newest] = await db()
    .select({ id: revisions.id })
    .from(revisions)
    .where(sql`${revisions.projectId} = ${projectId} and ${revisions.fileName} = 'library-architecture-P03.ifc'`);
  await askForApproval(ines, projectId, {
    revisionId: newest!.id,
    suitability: 'S4',
    question: 'Can we go on to the permit drawings with this?',
    dueOn: dayIn(6),
    approvers: [{ id: mikko.id }, { id: sunniva.id }, { email: 'herta@lindenau-library.example' }],
  });
  const [approval] = await listApprovals(mikko, projectId);
  await answerApproval(
    mikko,
    projectId,
    approval!.id,
    'with-comments',
    'The frame stands. Keep the last column 20 cm off the glass.',
  );
}

async function guest(code: string, name: string, email: string): Promise<Actor> {
  const { secret } = await enterByCode(code, name, email);
  return (await actorOf(new Headers({ cookie: `${GUEST_COOKIE}=${secret}` })))!;
}

const WAY: Measure = {
  id: 'measure 4',
  name: 'In front of the tanks',
  kind: 'distance',
  points: [
    [5.7, 32.6, 1],
    [5.7, 33.5, 1],
  ],
  normals: [],
  area: null,
};

type Details = Pick<CommentChange, 'kind' | 'assignee' | 'dueOn' | 'priority'>;

/** Plays a meeting minute by minute, and remembers which minute everything belongs to. */
class Stage {
  private view: ViewState = INITIAL_VIEW;
  private picture: Buffer | null = null;
  private readonly minutes = new Map<string, number>();
  private readonly events: number[] = [0];
  private readonly activityMinutes: { before: number; minute: number }[] = [];

  constructor(
    private readonly meetingId: string,
    private readonly projectId: string,
    private readonly views: ReadonlyMap<string, PicturedView>,
  ) {}

  async join(minute: number, actor: Actor): Promise<void> {
    await this.settle(minute, null, { type: 'joined', participant: await participantFor(actor, this.projectId) });
  }

  async leave(minute: number, actor: Actor): Promise<void> {
    await this.settle(minute, null, { type: 'left', participant: actor.id });
  }

  async open(minute: number, lead: Actor, name: string): Promise<void> {
    const { id, view, picture } = this.views.get(name)!;
    Object.assign(this, { view, picture });
    await this.settle(minute, lead, { type: 'view-changed', change: view, viewpoint: id });
  }

  async turn(minute: number, lead: Actor, change: ViewChange): Promise<void> {
    this.view = { ...this.view, ...change };
    await this.settle(minute, lead, { type: 'view-changed', change, viewpoint: null });
  }

  async measure(minute: number, lead: Actor, measure: Measure): Promise<void> {
    await this.turn(minute, lead, { measures: [...this.view.measures, measure] });
  }

  async draw(minute: number, by: Actor, name: string, points: Mark['points']): Promise<void> {
    const mark = cloud(this.views.get(name)!.view, by, points);
    this.view = { ...this.view, marks: [...this.view.marks, mark] };
    this.picture = this.picture && (await withMark(this.picture, mark));
    await this.settle(minute, by, { type: 'marked', put: [mark], gone: [] });
  }

  async say(minute: number, by: Actor, text: string, details: Details): Promise<string> {
    const id = await say(by, this.projectId, {
      text,
      view: this.view,
      ...(this.picture && { picture: this.picture }),
      ...details,
    });
    this.events.push(minute);
    await this.done(minute);
    return this.note(minute, id);
  }

  async answer(minute: number, by: Actor, replyTo: string, text: string): Promise<void> {
    this.note(minute, await say(by, this.projectId, { text, replyTo }));
    await this.done(minute);
  }

  async decide(minute: number, lead: Actor, name: string, text: string, confirmedBy: readonly Actor[]): Promise<void> {
    const viewpointId = this.views.get(name)!.id;
    const id = await say(lead, this.projectId, {
      text,
      kind: 'decision',
      viewpointId,
      view: this.view,
      ...(this.picture && { picture: this.picture }),
    });
    this.events.push(minute);
    this.note(minute, id);
    for (const actor of confirmedBy) await confirmDecision(actor, this.projectId, id);
    await this.done(minute + 0.5);
  }

  async change(minute: number, by: Actor, id: string, change: CommentChange): Promise<void> {
    await changeComment(by, this.projectId, id, change);
    await this.done(minute);
    const [last] = await db()
      .select({ id: commentChanges.id })
      .from(commentChanges)
      .where(eq(commentChanges.commentId, id))
      .orderBy(sql`${commentChanges.id} desc`)
      .limit(1);
    this.minutes.set(last!.id, minute);
  }

  async end(minute: number): Promise<void> {
    await this.settle(minute, null, { type: 'ended' });
  }

  /** Moves all that was done to when it would have been. */
  async moveIntoThePast(): Promise<void> {
    const start = new Date(Date.now() - HELD_DAYS * DAY);
    start.setUTCHours(14, 0, 0, 0);
    const at = (minute: number) => new Date(start.getTime() + minute * 60_000);
    await db().transaction(async (tx) => {
      for (const [i, minute] of this.events.entries())
        await tx
          .update(meetingEvents)
          .set({ at: at(minute) })
          .where(sql`${meetingEvents.meetingId} = ${this.meetingId} and ${meetingEvents.seq} = ${i + 1}`);
      await tx
        .update(meetings)
        .set({ startedAt: start, endedAt: at(this.events.at(-1)!), isHeld: false })
        .where(eq(meetings.id, this.meetingId));
      for (const [id, minute] of this.minutes) {
        await tx
          .update(comments)
          .set({ createdAt: at(minute) })
          .where(eq(comments.id, id));
        await tx
          .update(confirmations)
          .set({ at: at(minute + 0.5) })
          .where(eq(confirmations.commentId, id));
        await tx
          .update(commentChanges)
          .set({ at: at(minute) })
          .where(eq(commentChanges.id, id));
      }
      const all = await tx
        .select({ id: activities.id, kind: activities.kind, subjectId: activities.subjectId })
        .from(activities)
        .where(eq(activities.projectId, this.projectId))
        .orderBy(activities.id);
      for (const [i, one] of all.entries()) {
        const step = this.activityMinutes.find(({ before }) => i < before);
        if (step && one.kind !== 'published' && one.kind !== 'approval-asked')
          await tx
            .update(activities)
            .set({ at: at(step.minute) })
            .where(eq(activities.id, one.id));
      }
      const published = await tx.execute<{ id: string; name: string; number: number }>(
        sql`select r.id, m.name, r.number from revisions r join models m on m.id = r.model_id where r.project_id = ${this.projectId} and r.number is not null`,
      );
      for (const { id, name, number } of published.rows) {
        const days = PUBLISHED[`${name} ${number}`];
        if (days === undefined) continue;
        const when = new Date(Date.now() - days * DAY);
        await tx.update(revisions).set({ publishedAt: when, createdAt: when }).where(eq(revisions.id, id));
        await tx
          .update(activities)
          .set({ at: when })
          .where(inArray(activities.subjectId, [id]));
      }
    });
  }

  private note(minute: number, id: string): string {
    this.minutes.set(id, minute);
    return id;
  }

  private async settle(minute: number, by: Actor | null, event: Parameters<typeof settle>[2]): Promise<void> {
    await settle(this.meetingId, by?.id ?? null, event);
    this.events.push(minute);
    await this.done(minute);
  }

  /** All that was written down until now and has no minute yet belongs to this one. */
  private async done(minute: number): Promise<void> {
    const [row] = await db()
      .select({ n: sql<number>`count(*)::int` })
      .from(activities)
      .where(eq(activities.projectId, this.projectId));
    this.activityMinutes.push({ before: row!.n, minute });
  }
}

/** A picture with what was drawn over its view. */
async function withMark(picture: Buffer, mark: Mark): Promise<Buffer> {
  const { width = 480, height = 300 } = await sharp(picture).metadata();
  const { path } = markShape(mark, height / 2, [width / 2, height / 2]);
  const line = PEN_WIDTHS[mark.pen] * (height / 2);
  const drawn = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><path d="${path}" fill="none" stroke="${INK_COLOURS[mark.ink]}" stroke-width="${line}" stroke-linejoin="round"/></svg>`;
  return sharp(picture)
    .composite([{ input: Buffer.from(drawn) }])
    .jpeg({ quality: 88 })
    .toBuffer();
}
