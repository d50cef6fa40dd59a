import { siteSchema } from '@/core/sun/site-schema';
import { readSite, setSite } from '@/server/projects/site';
import { answering, readBody } from '../../../answering';

export const GET = answering(({ actor, params }) => readSite(actor, params.id!));

export const PUT = answering(async ({ request, actor, params }) => {
  const { site } = await readBody(request, siteSchema);
  return setSite(actor, params.id!, site);
});
