import 'tus-js-client';

declare module 'tus-js-client' {
  /** Remembers uploads in a file; the package's own declarations, written for browsers, leave it out. */
  export class FileUrlStorage implements UrlStorage {
    constructor(path: string);
    findAllUploads(): Promise<PreviousUpload[]>;
    findUploadsByFingerprint(fingerprint: string): Promise<PreviousUpload[]>;
    removeUpload(urlStorageKey: string): Promise<void>;
    addUpload(fingerprint: string, upload: PreviousUpload): Promise<string>;
  }
}
