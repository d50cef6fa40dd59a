import { linkSchema } from '@/core/forms/link-schema';
import { createLink, listLinks } from '@/server/access/links';
import { answering, originOf, readBody } from '../../../answering';

export const GET = answering(({ actor, params }) => listLinks(actor, params.id!));

export const POST = answering(async ({ request, actor, params }) => {
  return createLink(actor, params.id!, originOf(request), await readBody(request, linkSchema));
});
