import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { closeConnection } from '@/db/database';
import { addMember, createProject } from '@/server/projects/projects';
import { testAccount, testGuest } from '@/server/test-people';
import { PUT as dailyMail } from './daily-mail/route';
import { GET as readFeed } from './feed/route';
import { GET as minutesDraft, PUT as correctMinutes } from './meetings/[id]/minutes/route';
import { GET as recording } from './meetings/[id]/recording/route';
import { GET as listApprovals, POST as askForApproval } from './projects/[id]/approvals/route';
import { DELETE as endApproval, PUT as answerApproval } from './projects/[id]/approvals/[approval]/route';
import { POST as bringIn } from './projects/[id]/bcf/route';
import { GET as ics } from './projects/[id]/comments.ics/route';
import { GET as xlsx } from './projects/[id]/comments.xlsx/route';
import { PATCH as changeComments } from './projects/[id]/comments/route';
import { POST as confirm } from './projects/[id]/comments/[comment]/confirmation/route';
import { POST as settleConflict } from './projects/[id]/comments/[comment]/conflict/route';
import { DELETE as dropFile, GET as readFile } from './projects/[id]/comments/[comment]/files/[file]/route';
import { PUT as holdMinutes } from './projects/[id]/minutes/route';
import { GET as listNotes, POST as takeNote } from './projects/[id]/notes/route';
import { POST as shareNote } from './projects/[id]/notes/[note]/route';
import { DELETE as dropTracker, GET as readTracker } from './projects/[id]/tracker/route';
import { GET as listWebhooks, POST as addWebhook } from './projects/[id]/webhooks/route';
import { DELETE as dropWebhook } from './projects/[id]/webhooks/[webhook]/route';
import { POST as enter } from './enter/route';
import { GET as listJobs } from './jobs/route';
import { GET as minutes } from './meetings/[id]/minutes.pdf/route';
import { GET as listNotices, PATCH as seeNotices } from './notices/route';
import { GET as csv } from './projects/[id]/comments.csv/route';
import { POST as drawSheet } from './projects/[id]/drawing.pdf/route';
import { PATCH as changeComment } from './projects/[id]/comments/[comment]/route';
import { GET as commentPicture } from './projects/[id]/comments/[comment]/picture/route';
import { GET as listComments, POST as say } from './projects/[id]/comments/route';
import { PATCH as changeLink } from './projects/[id]/links/[link]/route';
import { GET as takeSourceFile } from './projects/[id]/models/[model]/source/route';
import { PATCH as changeSnapshot, DELETE as dropSnapshot } from './projects/[id]/snapshots/[snapshot]/route';
import { POST as mailSnapshots } from './projects/[id]/snapshots/mail/route';
import { GET as listSnapshots } from './projects/[id]/snapshots/route';
import { GET as readSite, PUT as setSite } from './projects/[id]/site/route';
import { GET as listLinks, POST as makeLink } from './projects/[id]/links/route';
import { GET as runningMeeting, POST as startMeeting } from './projects/[id]/meeting/route';
import { POST as publish } from './projects/[id]/publications/route';
import { GET as readProject } from './projects/[id]/route';
import { PATCH as placeModel } from './projects/[id]/models/[model]/route';
import { DELETE as dropOptions } from './projects/[id]/options/[set]/route';
import { GET as listOptions, POST as makeOptions } from './projects/[id]/options/route';
import { DELETE as dropSource, POST as takeSource } from './projects/[id]/sources/[source]/route';
import { GET as listSources } from './projects/[id]/sources/route';
import { GET as stageModels } from './projects/[id]/stage/route';
import { PATCH as changeViewpoint, POST as copyViewpoint } from './projects/[id]/viewpoints/[viewpoint]/route';
import { GET as listViewpoints, POST as saveViewpoint } from './projects/[id]/viewpoints/route';
import { GET as listProjects, POST as makeProject } from './projects/route';
import { POST as password } from './password/route';
import { GET as readRevision } from './revisions/[id]/route';
import { POST as takeCameras } from './revisions/[id]/cameras/route';
import { POST as lookAgain } from './revisions/[id]/look/route';
import { POST as publishPart } from './revisions/[id]/part/route';
import { POST as repeat } from './revisions/[id]/repeat/route';
import { POST as withdraw } from './revisions/[id]/withdrawal/route';
import { TOKEN_RIGHTS, type TokenRight } from '@/core/rights';
import { createToken } from '@/server/access/tokens';
import { GET as listTokens, POST as makeToken } from './tokens/route';

type Handler = (
  request: Request,
  context: { params: Promise<Record<string, string> | undefined> },
) => Promise<Response>;
type Who = 'lead' | 'designer' | 'guest-comment' | 'guest-look' | 'stranger' | 'nobody';

const WHO: Who[] = ['lead', 'designer', 'guest-comment', 'guest-look', 'stranger', 'nobody'];
const VIEW = { ...INITIAL_VIEW, camera: { position: [0, 0, 1], target: [0, 1, 1], fov: 50 } };
const STUB = `data:image/jpeg;base64,${Buffer.from('ffd8ffe000104a464946', 'hex').toString('base64')}`;
const OPTIONS = { name: 'Roof', options: ['A', 'B'].map((name) => ({ name, members: [] })) };
const NONE = '00000000-0000-7000-8000-000000000000';
const cookies = {} as Record<Who, string>;
const tokens = {} as Record<TokenRight, string>;
const ids: Record<string, string> = {};

async function call(handler: Handler, who: Who, params: Record<string, string> = {}, body?: unknown, raw?: string) {
  const request = new Request('http://localhost/api', {
    method: body === undefined && raw === undefined ? 'GET' : 'POST',
    headers: { cookie: cookies[who] },
    body: raw ?? (body === undefined ? undefined : JSON.stringify(body)),
  });
  // An address without ids has no parameters at all.
  const named = handler === makeProject ? undefined : { id: ids.project!, ...params };
  return handler(request, { params: Promise.resolve(named) });
}

async function made(answer: Response): Promise<string> {
  expect(answer.status).toBe(200);
  return ((await answer.json()) as { id: string }).id;
}

beforeAll(async () => {
  const picture = await sharp({ create: { width: 8, height: 6, channels: 3, background: '#9C3B2E' } })
    .jpeg()
    .toBuffer();
  const JPEG = `data:image/jpeg;base64,${picture.toString('base64')}`;
  const lead = await testAccount('Lead');
  const designer = await testAccount('Designer');
  const stranger = await testAccount('Other');
  ids.project = await createProject(lead.actor, 'Library', '');
  await addMember(ids.project, designer.actor.id, 'designer');
  cookies.lead = lead.cookie;
  cookies.designer = designer.cookie;
  cookies['guest-comment'] = (await testGuest(lead.actor, ids.project, 'comment', 'Bo')).cookie;
  cookies['guest-look'] = (await testGuest(lead.actor, ids.project, 'look', 'Tuula')).cookie;
  cookies.stranger = stranger.cookie;
  cookies.nobody = '';
  for (const right of TOKEN_RIGHTS) tokens[right] = (await createToken(lead.actor, right, right)).token;
  const meeting = await call(startMeeting, 'lead', {}, { title: 'Evening' });
  ids.meeting = ((await meeting.json()) as { meeting: { id: string } }).meeting.id;
  ids.comment = await made(await call(say, 'lead', {}, { text: 'One', view: VIEW, picture: JPEG }));
  ids.viewpoint = await made(await call(saveViewpoint, 'lead', {}, { name: 'Desk', state: VIEW, picture: JPEG }));
  ids.link = await made(await call(makeLink, 'lead', {}, { right: 'look', label: 'Staff' }));
});
afterAll(() => closeConnection());

/** Every route with what each person gets, in the order of WHO. */
const SHEET = {
  drawing: {
    plane: { normal: [0, 0, 1], offset: 1.2 },
    elements: [
      {
        guid: 'g',
        name: 'Wall',
        category: 'Wall',
        material: 'Concrete',
        regions: [{ border: [0, 0, 4, 0, 4, 0.3, 0, 0.3], holes: [] }],
        lines: [],
      },
    ],
  },
  title: { title: 'Plan', date: '29 Nov 2026', revision: 'P01' },
  scale: 100,
};
const APPROVAL = { revisionId: NONE, approvers: [{ email: 'a@b.example' }] };
const CORRECTIONS = { foreword: 'F', words: {}, left: [] };
const SEVERAL = { ids: [NONE], change: { status: 'closed' } };

const MATRIX: [
  name: string,
  handler: Handler,
  params: () => Record<string, string>,
  body: unknown,
  statuses: number[],
][] = [
  ['read the project', readProject, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['load its models', stageModels, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['make a project', makeProject, () => ({}), { name: 'New' }, [200, 200, 403, 403, 200, 401]],
  // An upload that does not exist is only refused after the right to publish at all.
  ['publish', publish, () => ({}), { uploadId: 'ab' }, [404, 404, 404, 404, 404, 401]],
  ['list projects', listProjects, () => ({}), undefined, [200, 200, 403, 403, 200, 401]],
  ['list access tokens', listTokens, () => ({}), undefined, [200, 200, 403, 403, 200, 401]],
  ['make an access token', makeToken, () => ({}), { label: 'T', right: 'read' }, [200, 200, 403, 403, 200, 401]],
  [
    'change the password',
    password,
    () => ({}),
    { present: 'no', next: 'long enough here' },
    [403, 403, 403, 403, 403, 401],
  ],
  ['read a revision', readRevision, () => ({ id: NONE }), undefined, [404, 404, 404, 404, 404, 401]],
  ['take its cameras', takeCameras, () => ({ id: NONE }), {}, [404, 404, 404, 404, 404, 401]],
  ['withdraw a revision', withdraw, () => ({ id: NONE }), {}, [404, 404, 404, 404, 404, 401]],
  ['decide anew about a revision', lookAgain, () => ({ id: NONE }), {}, [404, 404, 404, 404, 404, 401]],
  ['publish a part of one', publishPart, () => ({ id: NONE }), { name: 'P' }, [404, 404, 404, 404, 404, 401]],
  ['make a revision the newest', repeat, () => ({ id: NONE }), {}, [404, 404, 403, 403, 404, 401]],
  ['list design options', listOptions, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['name a place with options', makeOptions, () => ({}), OPTIONS, [200, 200, 403, 403, 404, 401]],
  ['give up options', dropOptions, () => ({ set: NONE }), {}, [404, 404, 403, 403, 404, 401]],
  ['place a model', placeModel, () => ({ model: NONE }), { placement: { by: 'file' } }, [404, 404, 403, 403, 404, 401]],
  ['list files of the model store', listSources, () => ({}), undefined, [200, 200, 403, 403, 404, 401]],
  ['take a version', takeSource, () => ({ source: NONE }), {}, [404, 404, 403, 403, 404, 401]],
  ['let go of a file', dropSource, () => ({ source: NONE }), {}, [404, 404, 403, 403, 404, 401]],
  ['list jobs', listJobs, () => ({}), undefined, [200, 200, 403, 403, 200, 401]],
  ['read notices', listNotices, () => ({}), undefined, [200, 200, 403, 403, 200, 401]],
  ['mark notices as seen', seeNotices, () => ({}), {}, [200, 200, 403, 403, 200, 401]],
  ['list viewpoints', listViewpoints, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['save a viewpoint', saveViewpoint, () => ({}), { name: 'V', state: VIEW }, [200, 200, 403, 403, 404, 401]],
  ['rename one', changeViewpoint, () => ({ viewpoint: ids.viewpoint! }), { name: 'W' }, [200, 200, 403, 403, 404, 401]],
  ['copy one', copyViewpoint, () => ({ viewpoint: ids.viewpoint! }), {}, [200, 200, 403, 403, 404, 401]],
  ['take its newest file', takeSourceFile, () => ({ model: NONE }), undefined, [404, 404, 403, 403, 404, 401]],
  ['list kept pictures', listSnapshots, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['rename a kept picture', changeSnapshot, () => ({ snapshot: NONE }), { name: 'P' }, [404, 404, 403, 403, 404, 401]],
  ['delete a kept picture', dropSnapshot, () => ({ snapshot: NONE }), {}, [404, 404, 403, 403, 404, 401]],
  ['mail pictures', mailSnapshots, () => ({}), { ids: [NONE], to: 'a@b.example' }, [404, 404, 403, 403, 404, 401]],
  ['read the site', readSite, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['set the site', setSite, () => ({}), { site: null }, [200, 200, 403, 403, 404, 401]],
  ['list comments', listComments, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['say', say, () => ({}), { text: 'Hm' }, [200, 200, 200, 403, 404, 401]],
  [
    'close a comment',
    changeComment,
    () => ({ comment: ids.comment! }),
    { status: 'closed' },
    [200, 200, 403, 403, 404, 401],
  ],
  ['see its picture', commentPicture, () => ({ comment: ids.comment! }), undefined, [200, 200, 200, 200, 404, 401]],
  ['list links', listLinks, () => ({}), undefined, [200, 403, 403, 403, 404, 401]],
  ['make a link', makeLink, () => ({}), { right: 'look', label: 'X' }, [200, 403, 403, 403, 404, 401]],
  ['extend a link', changeLink, () => ({ link: ids.link! }), { action: 'extend' }, [200, 403, 403, 403, 404, 401]],
  ['see the meeting', runningMeeting, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['start a meeting', startMeeting, () => ({}), { title: 'M' }, [200, 403, 403, 403, 404, 401]],
  ['get the minutes', minutes, () => ({ id: ids.meeting! }), undefined, [200, 200, 403, 403, 404, 401]],
  ['put a drawing on a sheet', drawSheet, () => ({}), SHEET, [200, 200, 200, 200, 404, 401]],
  ['get the table', csv, () => ({}), undefined, [200, 200, 403, 403, 404, 401]],
  ['change several comments', changeComments, () => ({}), SEVERAL, [404, 404, 404, 403, 404, 401]],
  ['confirm a decision', confirm, () => ({ comment: NONE }), {}, [404, 404, 404, 404, 404, 401]],
  ['take away a file', dropFile, () => ({ comment: NONE, file: NONE }), undefined, [404, 404, 404, 403, 404, 401]],
  ['read a file', readFile, () => ({ comment: NONE, file: NONE }), undefined, [404, 404, 404, 404, 404, 401]],
  ['settle a conflict', settleConflict, () => ({ comment: NONE }), { keeps: 'here' }, [404, 404, 403, 403, 404, 401]],
  ['list approvals', listApprovals, () => ({}), undefined, [200, 200, 200, 200, 404, 401]],
  ['put up for approval', askForApproval, () => ({}), APPROVAL, [404, 403, 403, 403, 404, 401]],
  ['answer on one', answerApproval, () => ({ approval: NONE }), { answer: 'approved' }, [404, 404, 404, 404, 404, 401]],
  ['take one back', endApproval, () => ({ approval: NONE }), undefined, [404, 403, 403, 403, 404, 401]],
  ['read the feed', readFeed, () => ({}), undefined, [200, 200, 403, 403, 200, 401]],
  ['wish a mail a day', dailyMail, () => ({}), { wanted: false }, [200, 200, 403, 403, 200, 401]],
  ['list one’s notes', listNotes, () => ({}), undefined, [200, 200, 403, 403, 404, 401]],
  ['take a note', takeNote, () => ({}), { text: 'N' }, [200, 200, 403, 403, 404, 401]],
  ['share a note', shareNote, () => ({ note: NONE }), {}, [404, 404, 403, 403, 404, 401]],
  ['read minutes to correct', minutesDraft, () => ({ id: ids.meeting! }), undefined, [200, 403, 403, 403, 404, 401]],
  ['correct minutes', correctMinutes, () => ({ id: ids.meeting! }), CORRECTIONS, [200, 403, 403, 403, 404, 401]],
  ['hold minutes', holdMinutes, () => ({}), { held: false }, [200, 403, 403, 403, 404, 401]],
  ['see a meeting again', recording, () => ({ id: ids.meeting! }), undefined, [200, 200, 403, 403, 404, 401]],
  ['read the tracker', readTracker, () => ({}), undefined, [200, 403, 403, 403, 404, 401]],
  ['let go of the tracker', dropTracker, () => ({}), undefined, [200, 403, 403, 403, 404, 401]],
  ['list programs that are told', listWebhooks, () => ({}), undefined, [200, 403, 403, 403, 404, 401]],
  ['add one', addWebhook, () => ({}), { url: 'https://a.example', kinds: ['said'] }, [200, 403, 403, 403, 404, 401]],
  ['remove one', dropWebhook, () => ({ webhook: NONE }), undefined, [404, 403, 403, 403, 404, 401]],
  ['get the workbook', xlsx, () => ({}), undefined, [200, 200, 403, 403, 404, 401]],
  ['get the calendar', ics, () => ({}), undefined, [200, 200, 403, 403, 404, 401]],
  ['bring in BCF', bringIn, () => ({}), {}, [400, 400, 403, 403, 404, 401]],
];

describe('who may do what over HTTP', () => {
  it.each(MATRIX)('%s', async (_, handler, params, body, statuses) => {
    const found: number[] = [];
    for (const who of WHO) found.push((await call(handler, who, params(), body)).status);
    expect(Object.fromEntries(WHO.map((who, i) => [who, found[i]]))).toEqual(
      Object.fromEntries(WHO.map((who, i) => [who, statuses[i]])),
    );
  });
});

/** What programs get with a token of the lead to read, to comment, to publish, where that is not: everything to read, nothing to change. */
const OF_TOKENS: Record<string, number[]> = {
  publish: [404, 404, 404],
  'read a revision': [404, 404, 404],
  'take its cameras': [404, 404, 404],
  'withdraw a revision': [404, 404, 404],
  'decide anew about a revision': [404, 404, 404],
  'publish a part of one': [404, 404, 404],
  'make a revision the newest': [404, 404, 404],
  'take its newest file': [404, 404, 404],
  'put a drawing on a sheet': [200, 200, 200],
  say: [403, 200, 403],
  'close a comment': [403, 200, 403],
  'change several comments': [403, 404, 403],
  'take away a file': [403, 404, 403],
  'read a file': [404, 404, 404],
  'settle a conflict': [403, 404, 403],
  'take a note': [403, 200, 403],
  'share a note': [403, 404, 403],
  'bring in BCF': [403, 400, 403],
  // What opens doors, and what belongs to people alone.
  'list access tokens': [403, 403, 403],
  'list links': [403, 403, 403],
  'see the meeting': [403, 403, 403],
  'list files of the model store': [403, 403, 200],
  'read minutes to correct': [403, 403, 403],
  'read the tracker': [403, 403, 403],
  'let go of the tracker': [403, 403, 403],
  'list programs that are told': [403, 403, 403],
  'remove one': [403, 403, 403],
  'take one back': [403, 403, 403],
};

describe('what a program may do over HTTP', () => {
  it.each(MATRIX)('%s', async (name, handler, params, body) => {
    const found: number[] = [];
    for (const right of TOKEN_RIGHTS) {
      const request = new Request('http://localhost/api', {
        method: body === undefined ? 'GET' : 'POST',
        headers: { authorization: `Bearer ${tokens[right]}` },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
      const named = handler === makeProject ? undefined : { id: ids.project!, ...params() };
      found.push((await handler(request, { params: Promise.resolve(named) })).status);
    }
    expect(found).toEqual(OF_TOKENS[name] ?? (body === undefined ? [200, 200, 200] : [403, 403, 403]));
  });
});

describe('what is sent wrong', () => {
  const refused = async (handler: Handler, body: unknown, params: Record<string, string> = {}) => {
    const answer = await call(handler, 'lead', params, body);
    const { title, status } = (await answer.json()) as { title: string; status: number };
    expect(answer.headers.get('content-type')).toBe('application/problem+json');
    expect(status).toBe(answer.status);
    return `${answer.status} ${title}`;
  };

  it('is refused with a sentence', async () => {
    expect(await refused(makeProject, { name: '   ' })).toBe('400 Please check what you entered: the name is missing.');
    expect(await refused(say, {})).toMatch(/^400 .*the comment is missing/);
    expect(await refused(say, { text: 'x'.repeat(4001) })).toMatch(/^400 .*4000 characters/);
    expect(await refused(say, { text: 'x', anchor: { element: null, point: [1, 2, 1e99] } })).toMatch(/^400/);
    for (const picture of ['data:image/svg+xml,<svg/>', STUB])
      expect(await refused(say, { text: 'x', picture })).toMatch(/^400 The picture cannot be read/);
    expect(await refused(say, { text: 'x', replyTo: NONE })).toMatch(/^404/);
    expect(await refused(makeLink, { right: 'everything', label: 'x' })).toMatch(/^400/);
    for (const wrong of [
      {},
      { index: -1 },
      { parts: [] },
      { parts: ['mist'] },
      { minutes: 0 },
      { picture: 'x' },
      { mist: 1 },
    ])
      expect(await refused(changeViewpoint, wrong, { viewpoint: ids.viewpoint! })).toMatch(/^400/);
    expect(await refused(saveViewpoint, { name: 'a', state: { ...VIEW, extra: 1 } })).toMatch(/^400/);
    expect(await refused(drawSheet, { ...SHEET, scale: 0 })).toMatch(/^400 .*scale/);
    const [wall] = SHEET.drawing.elements;
    const odd = { ...wall, lines: [[0, 1, 2, 3, 4]] };
    expect(await refused(drawSheet, { ...SHEET, drawing: { ...SHEET.drawing, elements: [odd] } })).toMatch(/^400/);
    expect(await refused(drawSheet, { ...SHEET, drawing: { elements: 'all' } })).toMatch(/^400/);
  });

  it('is refused when it is no JSON, or far too long', async () => {
    expect((await call(say, 'lead', {}, undefined, '{"text":')).status).toBe(400);
    expect((await call(say, 'lead', {}, undefined, `{"text":"${'x'.repeat(7_000_000)}"}`)).status).toBe(413);
  });

  it('names nothing that exists', async () => {
    for (const id of ['1', "' or 1=1", '..', NONE, `${NONE}0`]) {
      expect(await refused(changeComment, { status: 'open' }, { comment: id })).toMatch(/^404/);
      expect(await refused(changeLink, { action: 'revoke' }, { link: id })).toMatch(/^404/);
      expect(await refused(changeViewpoint, { deleted: true }, { viewpoint: id })).toMatch(/^404/);
    }
    expect((await call(readProject, 'lead', { id: 'nothing' })).status).toBe(404);
  });
});

describe('the door', () => {
  const knock = (body: unknown, from = '10.1.1.1') =>
    enter(
      new Request('http://localhost/api/enter', {
        method: 'POST',
        headers: { 'x-forwarded-for': from },
        body: JSON.stringify(body),
      }),
    );

  it('lets in by code with just a name, blanks around it or not', async () => {
    const { meeting } = (await (await call(runningMeeting, 'lead')).json()) as { meeting: { code: string } };
    const answer = await knock({ name: '  Aino ', code: meeting.code });
    expect(answer.status).toBe(200);
    const cookie = answer.headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly; SameSite=Lax/);
    cookies.nobody = cookie.split(';')[0]!;
    const said = await call(say, 'nobody', {}, { text: 'Here I am' });
    cookies.nobody = '';
    expect(said.status).toBe(200);
    const list = (await (await call(listComments, 'lead')).json()) as { author: string }[];
    expect(list.at(-1)!.author).toBe('Aino');
  });

  it('asks for a name and for one of code and link', async () => {
    const sentence = async (body: unknown) =>
      ((await (await knock(body, '10.1.1.2')).json()) as { title: string }).title;
    expect(await sentence({ name: ' ', code: '123456' })).toContain('your name is missing');
    expect(await sentence({ name: 'A', code: '12 34' })).toContain('six digits');
    expect(await sentence({ name: 'A' })).toMatch(/must contain at least one of/);
  });

  it('slows down who guesses', async () => {
    const statuses = [];
    for (let i = 0; i < 25; i++) statuses.push((await knock({ name: 'A', code: '000000' }, '10.1.1.3')).status);
    expect(statuses.slice(0, 20)).not.toContain(429);
    expect(statuses.slice(20)).toEqual([429, 429, 429, 429, 429]);
    expect((await knock({ name: 'A', code: '000000' }, '10.1.1.4')).status).not.toBe(429);
  });
});
