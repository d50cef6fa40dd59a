import type { Server as HttpServer } from 'node:http';
import { createAdapter } from '@socket.io/postgres-adapter';
import Joi from 'joi';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { Server, type Socket } from 'socket.io';
import { connection } from '@/db/database';
import { sentEventSchema, type SentEvent } from '@/core/meeting/meeting';
import { cameraSchema, vec3Schema } from '@/core/viewpoint';
import { actorOf, authorise, type Actor } from '@/server/access';
import { meetingRoom, projectRoom } from '@/server/broadcast';
import { config } from '@/server/config';
import { meetingState, participantFor, readMeeting, settle, viewpointEvent } from '@/server/meetings';
import { Problem } from '@/server/problems';
import { passOnNotices } from './live-notices';
import { webHeaders } from './web-headers';

interface SocketData {
  actor: Actor;
  meeting?: { id: string; projectId: string };
}

type Answer = (answer: object) => void;
type LiveSocket = Socket<
  Record<string, (...args: unknown[]) => void>,
  Record<string, (...args: unknown[]) => void>,
  Record<string, never>,
  SocketData
>;
type LiveServer = Server<
  Record<string, (...args: unknown[]) => void>,
  Record<string, (...args: unknown[]) => void>,
  Record<string, never>,
  SocketData
>;

/** A person whose connection breaks is still there for this long. */
const GRACE_MS = 4000;
const SWEEP_MS = 15_000;

const idSchema = Joi.object({ id: Joi.string().uuid().required() });
const poseSchema = Joi.object({ camera: cameraSchema.required() });
const pointerSchema = Joi.object({ point: vec3Schema.allow(null) });

/** Live traffic on the same port as everything else; any number of nodes share rooms through PostgreSQL. */
export function attachSockets(server: HttpServer): LiveServer {
  const io: LiveServer = new Server(server, {
    path: '/live',
    serveClient: false,
    maxHttpBufferSize: 4e6,
    pingInterval: 10_000,
    pingTimeout: 8000,
    adapter: createAdapter(connection().pool),
    allowRequest: (request, decide) => {
      const origin = request.headers.origin;
      decide(null, !origin || (URL.canParse(origin) && new URL(origin).host === request.headers.host));
    },
  });
  passOnNotices(io);
  io.use((socket, next) => {
    actorOf(webHeaders(socket.request)).then((actor) => {
      if (!actor) return next(new Error('signed-out'));
      socket.data.actor = actor;
      next();
    }, next);
  });
  const volatileLimit = new RateLimiterMemory({ points: 45, duration: 1 });
  const eventLimit = new RateLimiterMemory({ points: 60, duration: 10 });

  io.on('connection', (socket: LiveSocket) => {
    socket.on(
      'watch',
      (input, answer) =>
        void answering(answer as Answer, async () => {
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
          const { id } = check(idSchema, input);
          const { meeting } = await readMeeting(id);
          const participant = await participantFor(socket.data.actor, meeting.projectId);
          if (!meeting.endedAt && (await io.in(meetingRoom(id)).fetchSockets()).length >= config().maxParticipants) {
            throw new Problem(
              409,
              `This meeting is full: this installation allows ${config().maxParticipants} people.`,
            );
          }
          await socket.join(meetingRoom(id));
          socket.data.meeting = { id, projectId: meeting.projectId };
          if (!meeting.endedAt) {
            const before = await meetingState(id);
            const known = before.participants.find((other) => other.id === participant.id);
            if (!known?.present || known.name !== participant.name)
              await settle(id, null, { type: 'joined', participant });
          }
          return { state: await meetingState(id), you: participant.id };
        }),
    );

    socket.on(
      'act',
      (input, answer) =>
        void answering(answer as Answer, async () => {
          await limited(eventLimit, socket.data.actor.id);
          const meeting = inMeeting(socket);
          const sent: SentEvent = check(sentEventSchema, input);
          const event =
            sent.type === 'viewpoint-applied' ? await viewpointEvent(meeting.projectId, sent.viewpoint) : sent;
          const settled = await settle(meeting.id, socket.data.actor.id, event);
          return { seq: settled.seq };
        }),
    );

    // Poses and pointers are volatile: shown and forgotten, dropped where the line is slow, never stored.
    socket.on('pose', (input) => void relay(socket, 'pose', poseSchema, input));
    socket.on('pointer', (input) => void relay(socket, 'pointer', pointerSchema, input));

    socket.on('disconnect', () => {
      const { meeting, actor } = socket.data;
      if (meeting) setTimeout(() => void leaveIfGone(io, meeting.id, actor.id), GRACE_MS);
    });
  });

  async function relay(socket: LiveSocket, name: string, schema: Joi.ObjectSchema, input: unknown): Promise<void> {
    const { meeting, actor } = socket.data;
    const { error, value } = schema.validate(input);
    if (!meeting || error) return;
    try {
      await volatileLimit.consume(actor.id);
    } catch {
      return; // over the limit: the next one carries the newer pose anyway
    }
    socket.to(meetingRoom(meeting.id)).volatile.emit(name, { ...(value as object), from: actor.id });
  }

  const sweep = setInterval(() => {
    const meetings = new Set([...io.of('/').sockets.values()].flatMap((socket) => socket.data.meeting?.id ?? []));
    for (const id of meetings) void sweepMeeting(io, id);
  }, SWEEP_MS);
  io.engine.on('close', () => clearInterval(sweep));
  return io;
}

/** Marks as gone those whose node went down without saying so. */
async function sweepMeeting(io: LiveServer, meetingId: string): Promise<void> {
  const state = await meetingState(meetingId);
  for (const person of state.participants) if (person.present) await leaveIfGone(io, meetingId, person.id);
}

async function leaveIfGone(io: LiveServer, meetingId: string, participant: string): Promise<void> {
  try {
    const sockets = await io.in(meetingRoom(meetingId)).fetchSockets();
    if (sockets.some((other) => other.data.actor.id === participant)) return;
    const state = await meetingState(meetingId);
    if (state.endedAt || !state.participants.some((person) => person.id === participant && person.present)) return;
    await settle(meetingId, null, { type: 'left', participant });
  } catch (error) {
    // Presence is repaired by the next sweep; a database that is restarting must not end the node.
    process.stderr.write(`presence not updated: ${error instanceof Error ? error.message : String(error)}\n`);
  }
}

function inMeeting(socket: LiveSocket) {
  const { meeting } = socket.data;
  if (!meeting) throw new Problem(409, 'Join the meeting first.');
  return meeting;
}

function check(schema: Joi.Schema, input: unknown) {
  const { error, value } = schema.validate(input, { convert: false });
  if (error) throw new Problem(400, `That message was not understood: ${error.message}.`);
  return value;
}

async function limited(limiter: RateLimiterMemory, key: string): Promise<void> {
  try {
    await limiter.consume(key);
  } catch {
    throw new Problem(429, 'Too much at once. Wait a few seconds and go on.');
  }
}

async function answering(answer: Answer, work: () => Promise<object>): Promise<void> {
  if (typeof answer !== 'function') return;
  try {
    answer({ ok: true, ...(await work()) });
  } catch (error) {
    if (!(error instanceof Problem))
      process.stderr.write(`live: ${error instanceof Error ? error.stack : String(error)}\n`);
    answer({
      ok: false,
      message:
        error instanceof Problem ? error.message : 'The server could not do that. Nothing was changed; try again.',
    });
  }
}
