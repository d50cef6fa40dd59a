import type { Schema } from 'joi';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Validator } from '@seriousme/openapi-schema-validator';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { TOKEN_RIGHTS, type TokenRight } from '@/core/rights';
import { createProject } from '@/server/projects/projects';
import { testAccount, type TestPerson } from '@/server/test-people';
import { createToken } from '@/server/access/tokens';
import { askForApproval } from '@/server/review/approvals';
import { OPERATIONS, openApiDocument } from './description';
import { GET as readFeed } from './feed/route';
import { GET as listJobs } from './jobs/route';
import { GET as listApprovals } from './projects/[id]/approvals/route';
import { GET as listComments, POST as say } from './projects/[id]/comments/route';
import { GET as readProject } from './projects/[id]/route';
import { GET as listProjects } from './projects/route';
import { GET as readRevision } from './revisions/[id]/route';
import { POST as stop } from './revisions/[id]/stop/route';
import { POST as makeToken } from './tokens/route';

let lead: TestPerson;
let project: string;
let revision: string;
const tokens = {} as Record<TokenRight, string>;

beforeAll(async () => {
  lead = await testAccount('Programmer');
  project = await createProject(lead.actor, 'Described', 'Lindenau');
  const modelId = uuidv7();
  revision = uuidv7();
  await db().insert(models).values({ id: modelId, projectId: project, name: 'House', discipline: 'Architecture' });
  await db().insert(revisions).values({
    id: revision,
    projectId: project,
    modelId,
    state: 'queued',
    fileName: 'house.ifc',
    fileBytes: 5,
    authorId: lead.actor.id,
  });
  const [otherModel, published] = [uuidv7(), uuidv7()];
  await db().insert(models).values({ id: otherModel, projectId: project, name: 'Court', discipline: 'Landscape' });
  await db().insert(revisions).values({ id: published, projectId: project, modelId: otherModel, number: 1, state: 'published', fileName: 'court.ifc', fileBytes: 5, authorId: lead.actor.id, publishedAt: new Date() }); // prettier-ignore
  await askForApproval(lead.actor, project, { revisionId: published, suitability: 'S3', question: '', dueOn: null, approvers: [{ id: lead.actor.id }] }); // prettier-ignore
  for (const right of TOKEN_RIGHTS) tokens[right] = (await createToken(lead.actor, right, right)).token;
});
afterAll(() => closeConnection());

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

const call = (handler: Handler, token: string, id = '', method = 'GET', body?: object) =>
  handler(
    new Request('http://localhost/api', {
      method,
      headers: { authorization: `Bearer ${token}` },
      body: body && JSON.stringify(body),
    }),
    { params: Promise.resolve(id ? { id } : ({} as Record<string, string>)) },
  );

it('is a valid OpenAPI 3.1 document of routes that exist', async () => {
  const document = openApiDocument('https://yurta.example');
  const { valid, errors } = await new Validator().validate(structuredClone(document));
  expect(errors ?? []).toEqual([]);
  expect(valid).toBe(true);
  for (const { path } of OPERATIONS) {
    const file = join('src/app', path.replaceAll('{', '[').replaceAll('}', ']'), 'route.ts');
    expect([file, existsSync(file)]).toEqual([file, true]);
  }
  expect(Object.keys(document.paths)).toContain('/uploads/{upload}');
});

it('describes what the routes answer to a program with a token', async () => {
  const answers: [name: string, answer: Response][] = [
    ['listProjects', await call(listProjects, tokens.read)],
    ['readProject', await call(readProject, tokens.read, project)],
    ['listJobs', await call(listJobs, tokens.read)],
    ['readRevision', await call(readRevision, tokens.publish, revision)],
    ['stop', await call(stop, tokens.publish, revision, 'POST', {})],
    ['say', await call(say, tokens.comment, project, 'POST', { text: 'Too low', kind: 'action', dueOn: '2026-12-24' })],
    ['listComments', await call(listComments, tokens.read, project)],
    ['listApprovals', await call(listApprovals, tokens.read, project)],
    ['readFeed', await call(readFeed, tokens.read)],
  ];
  for (const [name, answer] of answers) {
    expect([name, answer.status]).toEqual([name, 200]);
    const { answer: schema } = OPERATIONS.find((one) => one.name === name)!;
    const { error } = (schema as Schema).validate(await answer.json(), { convert: false });
    expect([name, error?.message]).toEqual([name, undefined]);
  }
});

it('lets a token do only what it is for', async () => {
  expect((await call(readRevision, tokens.read, revision)).status).toBe(403);
  expect((await call(stop, tokens.read, revision, 'POST', {})).status).toBe(403);
  const more = await call(makeToken, tokens.publish, '', 'POST', { label: 'Another', right: 'publish' });
  expect([more.status, ((await more.json()) as { title: string }).title]).toEqual([
    403,
    'This cannot be done with an access token. Sign in in a browser.',
  ]);
  expect((await call(listProjects, 'yurta_unknown')).status).toBe(401);
});
