import { linkSchema } from '@/core/forms/link-schema';
import { createLink, listLinks } from '@/server/access/links';
import { answering, originOf, readBody } from '../../../answering';

export const GET = answering(({ actor, params }) => listLinks(actor, params.id!));

export const POST = answering(async ({ request, actor, params }) => {
  const { right, label, options } = await readBody(request, linkSchema);
  return createLink(actor, params.id!, right, label, originOf(request), options);
});
