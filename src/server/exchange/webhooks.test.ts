import { createHmac } from 'node:crypto';
import { createServer, type IncomingHttpHeaders } from 'node:http';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { db } from '@/db/database';
import { webhookDeliveries } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import type { Actor } from '../access/access';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { changeComment } from '../review/comment-changes';
import { say } from '../review/comments';
import { testAccount } from '../test-people';
import { addWebhook, deliverWebhooks, listWebhooks, removeWebhook } from './webhooks';

let lead: Actor;
let designer: Actor;
let project: string;
let told: { headers: IncomingHttpHeaders; body: string }[] = [];
let status = 204;
const server = createServer((request, response) => {
  void text(request).then((body) => {
    told.push({ headers: request.headers, body });
    response.writeHead(status).end();
  });
});
let url: string;

beforeAll(async () => {
  process.env.YURTA_REACH_OWN_NETWORK = '1';
  await useOwnDatabase('webhooks');
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/hook`;
  lead = (await testAccount('Ines')).actor;
  designer = (await testAccount('Mikko')).actor;
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
  server.close();
});
beforeEach(async () => {
  told = [];
  status = 204;
  project = await createProject(lead, 'Town library', '');
  await addMember(project, designer.id, 'designer');
});

describe('programs that are told', () => {
  it('hear once of what they want to hear, signed as the standard says', async () => {
    const { secret } = await addWebhook(lead, project, url, ['said', 'changed']);
    const id = await say(lead, project, { text: 'Lower the sill' });
    await say(lead, project, { text: 'Not this', replyTo: id });
    await changeComment(lead, project, id, { status: 'closed' });
    await Promise.all([deliverWebhooks(), deliverWebhooks()]);
    await deliverWebhooks();
    expect(told.map(({ body }) => (JSON.parse(body) as { type: string }).type)).toEqual(['said', 'changed']);
    const { headers, body } = told[0]!;
    // Standard Webhooks: base64 of HMAC-SHA256 over id, time and body by the secret after its prefix.
    const key = Buffer.from(secret.replace('whsec_', ''), 'base64');
    const signed = `${headers['webhook-id'] as string}.${headers['webhook-timestamp'] as string}.${body}`;
    expect(headers['webhook-signature']).toBe(`v1,${createHmac('sha256', key).update(signed).digest('base64')}`);
    expect(JSON.parse(body)).toMatchObject({ data: { project: { id: project }, by: 'Ines', subject: id, text: 'Lower the sill' } }); // prettier-ignore
  });

  it('hear again of what they did not take, later and later', async () => {
    const { id } = await addWebhook(lead, project, url, ['said']);
    await say(lead, project, { text: 'Once more' });
    status = 500;
    await deliverWebhooks();
    await deliverWebhooks(); // it is not due yet
    expect(told.length).toBe(1);
    expect((await listWebhooks(lead, project))[0]).toMatchObject({ last: { status: 500, trouble: 'It answered 500.' }, waiting: 1 }); // prettier-ignore
    await db()
      .update(webhookDeliveries)
      .set({ nextAt: new Date(0) });
    status = 204;
    await deliverWebhooks();
    expect(told.length).toBe(2);
    expect(told[1]!.headers['webhook-id']).toBe(told[0]!.headers['webhook-id']);
    expect((await listWebhooks(lead, project))[0]).toMatchObject({ last: { trouble: '' }, waiting: 0 });
    await removeWebhook(lead, project, id);
    await say(lead, project, { text: 'Nobody hears this' });
    await deliverWebhooks();
    expect(told.length).toBe(2);
  });

  it('are chosen by whoever leads alone', async () => {
    await expect(addWebhook(designer, project, url, ['said'])).rejects.toMatchObject({ status: 403 });
    await expect(listWebhooks(designer, project)).rejects.toMatchObject({ status: 403 });
  });
});
