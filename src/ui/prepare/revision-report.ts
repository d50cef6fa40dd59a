'use client';
import { useState } from 'react';
import type { RevisionDetail } from '@/core/project/models';
import type { PublishReport } from '@/core/project/publish-report';
import { api, messageOf } from '../api';

/** A revision's report, asked for when somebody wants to see it. */
export function useReport(revisionId: string): {
  report: PublishReport | null;
  trouble: string | null;
  load: () => void;
} {
  const [report, setReport] = useState<PublishReport | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const load = () => {
    if (report) return;
    api.get<RevisionDetail>(`/api/revisions/${revisionId}`).then(
      (detail) => (setReport(detail.report), setTrouble(null)),
      (error: unknown) => setTrouble(messageOf(error)),
    );
  };
  return { report, trouble, load };
}
