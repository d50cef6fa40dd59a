import { hearNotice } from '@/server/model-store/store-notices';
import { notFound } from '@/server/problems';
import { answeringAnyone, readText } from '../../../answering';

const UUID = /[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** The model store tells of a new version. It has no account here: its signature is what counts. */
export const POST = answeringAnyone(async (request) => {
  const [source] = UUID.exec(new URL(request.url).pathname) ?? [];
  if (!source) throw notFound('What this address names');
  await hearNotice(source, request.headers.get('store-signature') ?? '', await readText(request));
});
