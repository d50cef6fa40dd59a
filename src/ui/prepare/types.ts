/** What the Prepare station shows of a project, as the server sends it. */
export interface PreparedRevision {
  id: string;
  code: string | null;
  state: 'queued' | 'running' | 'published' | 'failed';
  note: string;
  fileName: string;
  author: string;
  stage: string;
  share: number;
  secondsLeft: number | null;
  error: string | null;
  createdAt: string;
  publishedAt: string | null;
  report: {
    source: { format: string; schema: string; program: string; bytes: number };
    counts: { elements: number; elementsWithGeometry: number; triangles: number; tiles: number };
    unread: { guid?: string; name?: string; category?: string; reason: string }[];
    weight: { tilesBrotli: number; indexBrotli: number };
  } | null;
}

export interface PreparedModel {
  id: string;
  name: string;
  discipline: string;
  revisions: PreparedRevision[];
}

export interface PreparedProject {
  id: string;
  name: string;
  models: PreparedModel[];
}
