import { finishConnection, pageOfErrand } from '@/server/model-store/connections';
import { Problem } from '@/server/problems';
import { answering, originOf } from '../../answering';
import { ERRAND_COOKIE, errandCookie } from '../errand-cookie';

/** Where the model store sends a person back to. Goes on to the page from which they connected, saying so if it went wrong. */
export const GET = answering(async ({ request, actor }) => {
  const errand =
    new RegExp(`(?:^|;\\s*)${ERRAND_COOKIE}=([\\w-]+)`).exec(request.headers.get('cookie') ?? '')?.[1] ?? '';
  const origin = originOf(request);
  let page = pageOfErrand(errand) ?? '/projects';
  try {
    await finishConnection(actor, new URL(request.url).searchParams, errand);
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    page += '?store=refused';
  }
  return new Response(null, {
    status: 302,
    headers: { Location: origin + page, 'Set-Cookie': errandCookie('', origin.startsWith('https:')) },
  });
});
