import type { IncomingMessage, ServerResponse } from 'node:http';
import { requireActor } from '@/server/access/access';
import { Problem, problemBody } from '@/server/problems';
import { authoriseReport, authoriseRevision } from '@/server/projects/projects';
import { findByContent } from '@/server/publishing/publishing';
import { revisionKey, storage } from '@/server/storage/storage';
import { outage } from '@/server/outage';
import { webHeaders } from './web-headers';

const PATH =
  /^\/published\/([0-9a-f-]{36})\/(tileset\.json|elements\.json|triangles\.json|plans\.json|report\.json|preview\.png|tiles\/\d+\.glb|textures\/\d+(?:-small)?\.webp)$/;
const TYPES: Record<string, string> = {
  json: 'application/json',
  glb: 'model/gltf-binary',
  png: 'image/png',
  webp: 'image/webp',
};
const REMEMBER_MS = 10_000;

/** Who may read which revision, remembered for a moment so that a hundred tiles ask the database once. */
const allowed = new Map<string, number>();

/** Serves files of published revisions: immutable, by ranges, precompressed where the browser takes Brotli. */
export async function servePublished(request: IncomingMessage, response: ServerResponse): Promise<void> {
  try {
    const match = PATH.exec(new URL(request.url ?? '/', 'http://x').pathname);
    if (!match) throw new Problem(404, 'There is no such file in a published revision.');
    const [, contentId, file] = match as unknown as [string, string, string];
    await checkAccess(request, contentId, file === 'report.json');
    const key = `${revisionKey(contentId)}/${file}`;
    const files = await storage();
    response.setHeader('Content-Type', TYPES[file.split('.').pop()!]!);
    response.setHeader('Vary', 'Accept-Encoding, Cookie, Authorization');
    // Private: the address alone must not open it from a shared cache.
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    if (/\bbr\b/.test(String(request.headers['accept-encoding'] ?? '')) && !request.headers.range) {
      response.setHeader('Content-Encoding', 'br');
      if (await files.send(`${key}.br`, request, response)) return;
      response.removeHeader('Content-Encoding');
    }
    if (!(await files.send(key, request, response))) throw new Problem(404, 'This revision has no such file.');
  } catch (error) {
    const problem = error instanceof Problem ? error : outage(error);
    if (!problem || response.headersSent) throw error;
    for (const name of response.getHeaderNames()) response.removeHeader(name);
    response
      .writeHead(problem.status, { 'Content-Type': 'application/problem+json' })
      .end(JSON.stringify(problemBody(problem)));
  }
}

async function checkAccess(request: IncomingMessage, contentId: string, isReport: boolean): Promise<void> {
  const { cookie = '', authorization = '' } = request.headers;
  const key = `${contentId}\0${isReport}\0${cookie}\0${authorization}`;
  if ((allowed.get(key) ?? 0) > Date.now()) return;
  const actor = await requireActor(webHeaders(request));
  const revision = await findByContent(contentId);
  await (isReport ? authoriseReport : authoriseRevision)(actor, revision);
  if (allowed.size > 5000) allowed.clear();
  allowed.set(key, Date.now() + REMEMBER_MS);
}
