import { createReadStream } from 'node:fs';
import { mkdir, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { homedir } from 'node:os';
import { FileUrlStorage, Upload } from 'tus-js-client';
import type { ModelSummary, ProjectDetail, RevisionDetail } from '@/core/project/models';
import { disciplineOf, modelNameOf, modelOfFile } from '@/core/project/incoming-file';
import type { PublishIntent } from '@/core/project/publish-settings';

/** What a server refused, or that it does not answer. */
export class RemoteError extends Error {
  override readonly name = 'RemoteError';

  constructor(
    message: string,
    /** Whether trying again later may help: the server is away or full. */
    readonly passing: boolean,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

/** Where a file goes, and as what. */
export interface Publication {
  projectId: string;
  /** Id or name of the model whose next revision it is; without it, the model that had a file of this name, or a new one. */
  model?: string;
  discipline?: string;
  note: string;
  intent: PublishIntent;
}

const POLL_MS = 1000;
const CHUNK = 8 * 1024 * 1024;

/** A Yurta server, as a program with an access token sees it. */
export class Remote {
  private readonly server: string;

  constructor(
    server: string,
    private readonly token: string,
  ) {
    if (!URL.canParse(server) || !/^https?:/.test(server))
      throw new RemoteError(`“${server}” is not the address of a server, such as https://yurta.example.`, false);
    this.server = server.replace(/\/+$/, '');
  }

  /**
   * Uploads a file and queues its publication. An upload that breaks off goes on where it was at the next call.
   *
   * @param fileName the name under which it is known; by default that of the file
   * @returns the id of the revision that it becomes
   */
  async publish(
    path: string,
    to: Publication,
    onProgress: (share: number) => void = () => undefined,
    fileName = basename(path),
  ): Promise<string> {
    const project = await this.call<ProjectDetail>('GET', `/api/projects/${encodeURIComponent(to.projectId)}`);
    const model = chooseModel(project, to, fileName);
    const uploadId = await this.upload(path, fileName, onProgress);
    const { revisionId } = await this.call<{ revisionId: string }>('POST', `/api/projects/${project.id}/publications`, {
      uploadId,
      note: to.note,
      intent: to.intent,
      ...('id' in model
        ? { modelId: model.id }
        : { modelName: model.name, discipline: to.discipline ?? disciplineOf(fileName) }),
    });
    return revisionId;
  }

  /** Waits until a revision has been read, well or not. */
  async outcome(revisionId: string, onProgress: (revision: RevisionDetail) => void): Promise<RevisionDetail> {
    for (;;) {
      const revision = await this.call<RevisionDetail>('GET', `/api/revisions/${revisionId}`);
      if (revision.state !== 'queued' && revision.state !== 'running') return revision;
      onProgress(revision);
      await new Promise((done) => setTimeout(done, POLL_MS));
    }
  }

  private async upload(path: string, fileName: string, onProgress: (share: number) => void): Promise<string> {
    const { size, mtimeMs } = await stat(path);
    if (size === 0) throw new RemoteError(`“${fileName}” is empty (0 bytes). Nothing was uploaded.`, false);
    const memory = join(process.env.XDG_CACHE_HOME ?? join(homedir(), '.cache'), 'yurta');
    await mkdir(memory, { recursive: true });
    return new Promise((done, fail) => {
      const upload = new Upload(createReadStream(path), {
        endpoint: `${this.server}/uploads`,
        headers: { Authorization: `Bearer ${this.token}` },
        uploadSize: size,
        chunkSize: CHUNK,
        retryDelays: [0, 1000, 3000, 8000],
        metadata: { filename: fileName },
        urlStorage: new FileUrlStorage(join(memory, 'uploads.json')),
        fingerprint: () => Promise.resolve([this.server, resolve(path), size, mtimeMs].join('|')),
        removeFingerprintOnSuccess: true,
        onProgress: (sent, total) => onProgress(total > 0 ? sent / total : 0),
        onSuccess: () => done(upload.url!.split('/').pop()!),
        onError: (error) => {
          const answer = 'originalResponse' in error ? error.originalResponse : null;
          const status = answer?.getStatus() ?? 0;
          fail(
            new RemoteError(
              answer?.getBody() || `The upload of “${fileName}” broke off. What was sent is kept; try again.`,
              status === 0 || status >= 500,
              { cause: error },
            ),
          );
        },
      });
      upload
        .findPreviousUploads()
        .then((previous) => {
          if (previous[0]) upload.resumeFromPreviousUpload(previous[0]);
          upload.start();
        })
        .catch(fail);
    });
  }

  private async call<T>(method: string, path: string, body?: object): Promise<T> {
    let answer: Response;
    try {
      answer = await fetch(this.server + path, {
        method,
        headers: {
          Authorization: `Bearer ${this.token}`,
          ...(body && { 'Content-Type': 'application/json' }),
        },
        body: body && JSON.stringify(body),
      });
    } catch (error) {
      throw new RemoteError(`${this.server} does not answer.`, true, { cause: error });
    }
    const content = (await answer.json().catch(() => null)) as unknown;
    if (answer.ok) return content as T;
    if (answer.status === 401)
      throw new RemoteError(
        'The server does not know this access token. It may have expired or been withdrawn; make a new one on its settings page.',
        false,
      );
    const reason = (content as { title?: string } | null)?.title ?? `${this.server} answered with ${answer.status}.`;
    throw new RemoteError(reason, answer.status >= 500 || answer.status === 429);
  }
}

function chooseModel(
  project: ProjectDetail,
  { model }: Publication,
  fileName: string,
): ModelSummary | { name: string } {
  if (model === undefined) return modelOfFile(project.models, fileName) ?? { name: modelNameOf(fileName) };
  const named = project.models.filter(({ id, name }) => id === model || name.toLowerCase() === model.toLowerCase());
  if (named.length > 1)
    throw new RemoteError(`The project has ${named.length} models named “${model}”. Name it by its id.`, false);
  return named[0] ?? { name: model };
}
