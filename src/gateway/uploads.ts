import { mkdirSync } from 'node:fs';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import { requireActor } from '@/server/access/access';
import { tokenMay } from '@/core/rights';
import { config } from '@/server/config';
import { Problem } from '@/server/problems';
import { announcedUploads, uploadFolder, type AnnouncedUpload } from '@/server/publishing/uploads';
import { roomLeft } from '@/server/storage/room-left';

export const UPLOAD_PATH = '/uploads';

/** The tus protocol's server end: uploads that can break off and go on. Only for accounts. */
export function uploadServer(): Server {
  mkdirSync(uploadFolder(), { recursive: true });
  const datastore = new FileStore({ directory: uploadFolder() });
  const grants = new Grants();
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
      const who = await owner(request);
      const noted = await announcedUploads();
      const room = await roomLeft(uploadFolder());
      // From here to the grant nothing else has its turn: of many that are announced at once each counts those before it.
      const announced = [...noted, ...grants.notAmong(noted)];
      const own = announced.filter((one) => one.owner === who).reduce((sum, { size }) => sum + size, 0);
      if (own + upload.size > config().maxPendingBytes)
        throw refusal(
          413,
          `You have ${megabytes(own)} MB of uploads that are not published; with this file they would be more than the ${megabytes(config().maxPendingBytes)} MB that one account may have. Publish them, or wait two days until they are given up.`,
        );
      // What others have announced and not sent yet needs its room as well.
      const missing = announced.reduce((sum, { size, arrived }) => sum + size - arrived, 0);
      if (room < missing + upload.size) throw refusal(507, NO_ROOM);
      grants.add({ id: upload.id, owner: who, size: upload.size, arrived: 0 });
      return { metadata: { ...upload.metadata, owner: who } };
    },
    // The store only says that it could not write; whether the disk was the reason is to be seen there.
    onResponseError: async (_request, error) =>
      'status_code' in error && error.status_code === 500 && (await roomLeft(uploadFolder())) < FULL
        ? { status_code: 507, body: NO_ROOM }
        : undefined,
  });
}

/** A grant whose upload was not noted after so long came to nothing. */
const GRANT_MS = 5_000;

/** Uploads that were granted a moment ago and are not noted yet. */
class Grants {
  private readonly granted = new Map<string, { upload: AnnouncedUpload; at: number }>();

  add(upload: AnnouncedUpload): void {
    this.granted.set(upload.id, { upload, at: Date.now() });
  }

  notAmong(noted: readonly AnnouncedUpload[]): AnnouncedUpload[] {
    for (const { id } of noted) this.granted.delete(id);
    for (const [id, { at }] of this.granted) if (Date.now() - at > GRANT_MS) this.granted.delete(id);
    return [...this.granted.values()].map(({ upload }) => upload);
  }
}

const NO_ROOM =
  'There is no room left on the server’s disk for this file. What was sent is kept. Ask the administrator to make room, then choose the same file again.';
/** A disk with less than this is full for our purposes, in bytes. */
const FULL = 1024 * 1024;

async function owner(request: Request): Promise<string> {
  try {
    const actor = await requireActor(request.headers);
    if (actor.kind === 'user' && (!actor.token || tokenMay(actor.token, 'model.publish'))) return actor.id;
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
  }
  throw refusal(401, 'Sign in to upload a model, or use an access token that may publish.');
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
