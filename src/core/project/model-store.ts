/** What a model store in the cloud holds, and which of its files a project takes its models from. */

export interface StoreFolder {
  id: string;
  name: string;
  /** From the root down to this folder. */
  path: { id: string; name: string }[];
  folders: { id: string; name: string }[];
  files: StoreFile[];
}

export interface StoreFile {
  id: string;
  name: string;
  /** The newest version. */
  version: StoreVersion;
}

export interface StoreVersion {
  /** From 1. */
  number: number;
  bytes: number;
  /** UTC, ISO 8601. */
  at: string;
  by: string;
}

/** How an account stands with the model store of this installation. */
export interface StoreConnection {
  /** What the administrator calls the store. */
  store: string;
  /** Whose files at the store are read; null while not connected. */
  account: string | null;
  /** Why the store lets nobody in any more; connecting again mends it. */
  trouble: string | null;
}

/** A file of the store from which a project takes the revisions of a model. */
export interface StoreSource {
  id: string;
  /** Its id at the store. */
  fileId: string;
  fileName: string;
  /** Folders that lead to it. */
  path: string[];
  /** Whose connection reads it. */
  owner: string;
  /** Whether you may see more of its store than this file. */
  yours: boolean;
  modelId: string | null;
  modelName: string;
  discipline: string;
  /** Whether every new version is published by itself. */
  follow: boolean;
  /** The newest version at the store, as far as is known. */
  newest: number;
  /** The version that was taken last, with what became of it; null before the first. */
  taken: { version: number; revisionId: string; code: string | null; state: string; at: string } | null;
  /** Why the last try to take a version failed. */
  trouble: string | null;
}

/** What is decided when a file is chosen. */
export interface StoreSourceDraft {
  fileId: string;
  /** An existing model gets the versions as its revisions; without it, a new model is made. */
  modelId?: string;
  modelName: string;
  discipline: string;
  follow: boolean;
}
