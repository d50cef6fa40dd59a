import type { Server as HttpServer } from 'node:http';
import { createAdapter } from '@socket.io/postgres-adapter';
import Joi from 'joi';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { Server } from 'socket.io';
import { connection } from '@/db/database';
import type { SentEvent } from '@/core/meeting/meeting';
import { actorOf, authorise } from '@/server/access';
import { meetingRoom, personRoom, projectRoom } from '@/server/broadcast';
import { config } from '@/server/config';
import { meetingState, participantFor, readMeeting, settle, viewpointEvent } from '@/server/meetings';
import { Problem } from '@/server/problems';
import { LiveAccess } from './live-access';
import { passOnNotices } from './live-notices';
import type { LiveServer, LiveSocket } from './live-server';
import { leaveWhenGone, sweepPresence } from './presence';
import { webHeaders } from './web-headers';
import { sentEventSchema } from '@/core/meeting/sent-event-schema';
import { cameraSchema, vec3Schema } from '@/core/viewpoint-schema';

type Answer = (answer: object) => void;

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
  const access = new LiveAccess(io);
  const hangUp = passOnNotices(io, (projectId) => access.recheck(projectId));
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
    if (socket.data.actor.kind === 'user') void socket.join(personRoom(socket.data.actor.id));

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

    leaveWhenGone(io, socket);
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

  const stopSweep = sweepPresence(io);
  io.engine.on('close', () => {
    stopSweep();
    access.stop();
    hangUp();
  });
  return io;
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
