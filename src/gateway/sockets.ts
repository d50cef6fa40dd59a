import type { Server as HttpServer } from 'node:http';
import Joi from 'joi';
import { Server } from 'socket.io';
import type { Vec3 } from '@/core/math/mat4';
import type { MarkGrowth } from '@/core/mark/growth';
import { MOST_MARK_POINTS, type Mark } from '@/core/mark/marks';
import type { SentEvent } from '@/core/meeting/meeting';
import { sentEventSchema } from '@/core/meeting/sent-event-schema';
import { may, roleOfLink } from '@/core/rights';
import { vec3Schema } from '@/core/view/camera-schema';
import type { Eyes } from '@/core/meeting/eyes';
import type { ViewChange } from '@/core/view/view-state';
import { markShapeSchema } from '@/core/view/marks-schema';
import { viewChangeSchema } from '@/core/view/view-state-schema';
import { Pace } from '@/server/access/pace';
import { actorOf, authorise, type Actor } from '@/server/access/access';
import { meetingRoom, personRoom, projectRoom } from '@/server/broadcast';
import { config } from '@/server/config';
import { eventOf, keptState, meetingState, settle } from '@/server/review/meeting-log';
import { participantFor, readMeeting } from '@/server/review/meetings';
import { refuseOddities } from '@/server/plain-text';
import { outage } from '@/server/outage';
import { Problem } from '@/server/problems';
import { PostgresHintBridge } from './hint-bridge';
import { setClientAddress } from './client-address';
import { cutOffFloods } from './floods';
import { Hints } from './hints';
import { LiveAccess } from './live-access';
import { passOnNotices } from './live-notices';
import type { LiveServer, LiveSocket } from './live-server';
import { Presence } from './presence';
import { isFromOtherSite } from './security-headers';
import { Strangers } from './strangers';
import { webHeaders } from './web-headers';

type Answer = (answer: object) => void;

/** Letters of acts that a guest may have settled in a minute: dozens of long lines. */
const GUEST_LETTERS = 4_000_000;
/** Windows that one person has open at one node. */
const MOST_CONNECTIONS = 12;

/** An act that is not settled after so long comes to nothing; the browser stops waiting a little later. */
const ACT_MS = 4000;

const idSchema = Joi.object<{ id: string }>({ id: Joi.string().uuid().required() });
const movingSchema = Joi.object<{ change: ViewChange }>({ change: viewChangeSchema.required() });
const eyesSchema = Joi.object<{ eyes: Eyes | null }>({
  eyes: Joi.object<Eyes>({
    at: vec3Schema,
    towards: vec3Schema,
    stands: Joi.number().min(0).max(10).allow(null).required(),
  })
    .allow(null)
    .required(),
});
const growingSchema = Joi.object<{ growth: MarkGrowth | null }>({
  growth: Joi.object<MarkGrowth>({
    mark: markShapeSchema.required(),
    from: Joi.number()
      .integer()
      .min(0)
      .max(3 * MOST_MARK_POINTS)
      .required(),
  })
    .allow(null)
    .required(),
});
const pointerSchema = Joi.object<{ point: Vec3 | null }>({ point: vec3Schema.allow(null) });

/** Live traffic on the same port as everything else; any number of nodes share rooms through PostgreSQL. */
export function attachSockets(server: HttpServer): LiveServer {
  const strangers = new Strangers();
  const io: LiveServer = new Server(server, {
    path: '/live',
    serveClient: false,
    maxHttpBufferSize: 4e6,
    pingInterval: 10_000,
    pingTimeout: 8000,
    allowRequest: (request, decide) => {
      setClientAddress(request);
      decide(null, !isFromOtherSite(request) && strangers.mayCome(request));
    },
  });
  strangers.watch(io);
  cutOffFloods(io);
  const access = new LiveAccess(io);
  const hints: Hints = new Hints(io, new PostgresHintBridge((received) => hints.receive(received)));
  const stopListening = passOnNotices(io, (projectId) => access.recheck(projectId));
  const comingLimit = new Pace(60, 10);
  const enter = async (socket: LiveSocket): Promise<void> => {
    const actor = await actorOf(webHeaders(socket.request));
    if (!actor) throw new Error('signed-out');
    await comingLimit.count(actor.id);
    const own = [...io.of('/').sockets.values()].filter(({ data }) => data.actor.id === actor.id);
    if (own.length >= MOST_CONNECTIONS) throw new Error('too-many');
    socket.data.actor = actor;
  };
  io.use((socket, next) => void enter(socket).then(() => next(), next));
  const presence = new Presence(io);
  const joinLimit = new Pace(60, 10);
  const hintLimit = new Pace(45, 1);
  const eventLimit = new Pace(60, 10);
  const guestMinute = new Pace(GUEST_LETTERS, 60);
  const guestDay = new Pace(config().maxGuestBytes, 24 * 60 * 60);

  io.on('connection', (socket: LiveSocket) => {
    if (socket.data.actor.kind === 'user') void socket.join(personRoom(socket.data.actor.id));

    socket.on(
      'watch',
      (input, answer) =>
        void answering(answer as Answer, async () => {
          await joinLimit.count(socket.data.actor.id);
          const { id } = check(idSchema, input);
          await authorise(socket.data.actor, id, 'project.read');
          await socket.join(projectRoom(id));
          return {};
        }),
    );

    socket.on(
      'meet',
      (input, answer) =>
        void answering(answer as Answer, async () => {
          await joinLimit.count(socket.data.actor.id);
          const { id } = check(idSchema, input);
          const { meeting } = await readMeeting(id);
          const participant = await participantFor(socket.data.actor, meeting.projectId);
          const state = await meetingState(id);
          if (state.endedAt) {
            // Who was there stands in the minutes, for those who may read them.
            await authorise(socket.data.actor, meeting.projectId, 'minutes.read');
            return { state, you: participant.id };
          }
          const known = state.participants.find((other) => other.id === participant.id);
          const others = state.participants.filter(({ id: other, present }) => present && other !== participant.id);
          if (others.length >= config().maxParticipants)
            throw new Problem(
              409,
              `This meeting is full: this installation allows ${config().maxParticipants} people.`,
            );
          await presence.arrive(socket, id);
          // Whose right to the project ends is out of the meeting as well.
          await socket.join([meetingRoom(id), projectRoom(meeting.projectId)]);
          socket.data.meeting = { id, projectId: meeting.projectId };
          if (!known?.present || known.name !== participant.name)
            await settle(id, null, { type: 'joined', participant });
          return { state: keptState(id) ?? (await meetingState(id)), you: participant.id };
        }),
    );

    socket.on(
      'act',
      (input, answer) =>
        void answering(answer as Answer, async () => {
          const until = Date.now() + ACT_MS;
          await eventLimit.count(socket.data.actor.id);
          const meeting = inMeeting(socket);
          const sent = check(sentEventSchema, input);
          // What is settled is kept for good; members are known people.
          if (socket.data.actor.kind === 'guest') {
            const letters = JSON.stringify(sent).length;
            await guestMinute.count(socket.data.actor.id, letters);
            await guestDay.count(socket.data.actor.id, letters);
          }
          if (sent.type === 'marked') await authorise(socket.data.actor, meeting.projectId, 'comment.write');
          const event = await eventOf(meeting.projectId, signed(sent, socket.data.actor));
          const settled = await settle(meeting.id, socket.data.actor.id, event, until);
          return { seq: settled.seq };
        }),
    );

    // Hints are shown and forgotten, dropped where the line is slow, never stored.
    socket.on(
      'view-moving',
      (input) =>
        void hinted(socket, movingSchema, input, (meeting, { change }) => {
          // Only the lead's hands move the view.
          const state = keptState(meeting);
          if (state?.lead === socket.data.actor.id) hints.move(socket, meeting, change, state.seq);
        }),
    );
    socket.on(
      'pointer',
      (input) => void hinted(socket, pointerSchema, input, (meeting, { point }) => hints.point(socket, meeting, point)),
    );

    socket.on(
      'eyes',
      (input) => void hinted(socket, eyesSchema, input, (meeting, { eyes }) => hints.look(socket, meeting, eyes)),
    );

    socket.on(
      'growing',
      (input) =>
        void hinted(socket, growingSchema, input, (meeting, { growth }) => {
          const { actor } = socket.data;
          // Members may draw; of guests, those who may comment.
          if (actor.kind === 'guest' && !may(roleOfLink(actor.right), 'comment.write')) return;
          const signedGrowth = growth && { ...growth, mark: { ...growth.mark, by: authorOf(actor) } };
          hints.grow(socket, meeting, signedGrowth, keptState(meeting)?.seq ?? 0);
        }),
    );
  });

  /** Passes a hint on, unless it is not understood or there are too many; nobody waits for an answer. */
  async function hinted<T>(
    socket: LiveSocket,
    schema: Joi.ObjectSchema<T>,
    input: unknown,
    pass: (meeting: string, hint: T) => void,
  ): Promise<void> {
    const { meeting, actor } = socket.data;
    if (!meeting) return;
    let hint: T;
    try {
      hint = check(schema, input);
      await hintLimit.count(actor.id);
    } catch {
      return; // not understood, or over the limit: the next one carries what is newer anyway
    }
    pass(meeting.id, hint);
  }

  io.engine.on('close', () => {
    presence.stop();
    access.stop();
    hints.stop();
    stopListening();
  });
  return io;
}

/** Nobody draws in another one's name, or switches an option that their link has fixed. */
function signed(sent: SentEvent, actor: Actor): SentEvent {
  if (actor.kind === 'guest' && sent.type === 'view-changed' && 'change' in sent && sent.change.options)
    return { ...sent, change: { ...sent.change, options: { ...sent.change.options, ...actor.options } } };
  if (sent.type !== 'marked') return sent;
  return { ...sent, put: sent.put.map((mark) => ({ ...mark, by: authorOf(actor) })) };
}

function authorOf({ id, name }: Actor): Mark['by'] {
  return { id, name };
}

function inMeeting(socket: LiveSocket) {
  const { meeting } = socket.data;
  if (!meeting) throw new Problem(409, 'Join the meeting first.');
  return meeting;
}

function check<T>(schema: Joi.Schema<T>, input: unknown): T {
  refuseOddities(input);
  const { error, value } = schema.validate(input, { convert: false });
  if (error) throw new Problem(400, `That message was not understood: ${error.message}.`);
  return value as T;
}

async function answering(answer: Answer, work: () => Promise<object>): Promise<void> {
  if (typeof answer !== 'function') return;
  try {
    answer({ ok: true, ...(await work()) });
  } catch (error) {
    if (!(error instanceof Problem))
      process.stderr.write(`live: ${error instanceof Error ? error.stack : String(error)}\n`);
    const problem = error instanceof Problem ? error : outage(error);
    answer({
      ok: false,
      status: problem?.status ?? 500,
      message: problem?.message ?? 'The server could not do that. Nothing was changed; try again.',
    });
  }
}
