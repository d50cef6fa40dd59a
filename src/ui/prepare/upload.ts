import { Upload } from 'tus-js-client';

/**
 * Uploads a file so that it can break off and go on: the same file chosen again resumes where it was.
 *
 * @returns the upload's id on the server
 * @throws Error with a sentence for the user
 */
export async function uploadFile(file: File, onProgress: (share: number) => void): Promise<string> {
  if (file.size === 0) throw new Error(`“${file.name}” is empty (0 bytes). Nothing was uploaded. Export it again.`);
  return new Promise((done, fail) => {
    const upload = new Upload(file, {
      endpoint: '/uploads',
      chunkSize: 8 * 1024 * 1024,
      retryDelays: [0, 500, 1500, 4000, 8000],
      metadata: { filename: file.name },
      removeFingerprintOnSuccess: true,
      onProgress: (sent, total) => onProgress(total > 0 ? sent / total : 0),
      onSuccess: () => done(upload.url!.split('/').pop()!),
      onError: (error) => {
        const answer = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
        fail(
          new Error(
            answer ||
              `The upload of “${file.name}” broke off. What was sent is kept: choose the same file again and it goes on from there.`,
          ),
        );
      },
    });
    void upload.findPreviousUploads().then((previous) => {
      if (previous[0]) upload.resumeFromPreviousUpload(previous[0]);
      upload.start();
    });
  });
}
