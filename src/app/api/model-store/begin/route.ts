import Joi from 'joi';
import { beginConnection } from '@/server/model-store/connections';
import { answering, originOf, readQuery } from '../../answering';
import { ARRIVAL, errandCookie } from '../errand-cookie';

const schema = Joi.object<{ page: string }>({
  page: Joi.string()
    .pattern(/^\/projects\/[0-9a-f-]{36}\/prepare$/)
    .required(),
});

/** Sends a person to the model store to allow Yurta to read their files. */
export const GET = answering(async ({ request, actor }) => {
  const { page } = readQuery(request, schema);
  const origin = originOf(request);
  const { address, errand } = await beginConnection(actor, origin + ARRIVAL, page);
  return new Response(null, {
    status: 302,
    headers: { Location: address, 'Set-Cookie': errandCookie(errand, origin.startsWith('https:')) },
  });
});
