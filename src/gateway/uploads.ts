import { mkdirSync } from 'node:fs';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import { requireActor } from '@/server/access';
import { config } from '@/server/config';
import { Problem } from '@/server/problems';
import { uploadFolder } from '@/server/uploads';

export const UPLOAD_PATH = '/uploads';

/** The tus protocol's server end: uploads that can break off and go on. Only for accounts. */
export function uploadServer(): Server {
  mkdirSync(uploadFolder(), { recursive: true });
  const datastore = new FileStore({ directory: uploadFolder() });
  return new Server({
    path: UPLOAD_PATH,
    relativeLocation: true,
    datastore,
    onIncomingRequest: async (request, uploadId) => {
      const asking = await owner(request);
      if (request.method === 'POST' || request.method === 'OPTIONS') return;
      const { metadata } = await datastore.getUpload(uploadId).catch(() => ({ metadata: undefined }));
      if (metadata?.owner !== asking) throw refusal(404, 'This upload is not known. Choose the file again.');
    },
    onUploadCreate: async (request, upload) => {
      const { maxUploadBytes } = config();
      if (upload.size === undefined) throw refusal(400, 'The upload does not say how long it is.');
      if (upload.size > maxUploadBytes) {
        throw refusal(
          413,
          `The file is ${megabytes(upload.size)} MB; this installation takes up to ${megabytes(maxUploadBytes)} MB. Nothing was uploaded. Export parts of the model, or ask the administrator to raise YURTA_MAX_UPLOAD_MB.`,
        );
      }
      return { metadata: { ...upload.metadata, owner: await owner(request) } };
    },
  });
}

async function owner(request: Request): Promise<string> {
  try {
    const actor = await requireActor(request.headers);
    if (actor.kind === 'user') return actor.id;
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
  }
  throw refusal(401, 'Sign in to upload a model.');
}

/** The shape in which the tus server takes a refusal. */
function refusal(status: number, body: string) {
  return Object.assign(new Error(body), { status_code: status, body });
}

function megabytes(bytes: number): string {
  return Math.ceil(bytes / 1024 / 1024)
    .toLocaleString('en')
    .replaceAll(',', ' ');
}
