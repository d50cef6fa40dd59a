'use client';
import { useEffect, useState } from 'react';
import type { ElementIndex } from '@/core/elements/element-index';
import { newestOf, type ModelSummary } from '@/core/project/models';
import { api } from '../../api';

/** Contents of a model's newest revision; null until they are there, or if there are none. */
export function useContents(model: ModelSummary | undefined): ElementIndex | null {
  const files = newestOf(model?.revisions ?? [])?.files ?? null;
  const [loaded, setLoaded] = useState<{ files: string; index: ElementIndex } | null>(null);
  useEffect(() => {
    if (!files) return;
    let current = true;
    api.get<ElementIndex>(`${files}elements.json`).then(
      (index) => current && setLoaded({ files, index }),
      () => undefined, // without them nothing is offered or counted; saving tells what is wrong
    );
    return () => {
      current = false;
    };
  }, [files]);
  return loaded && loaded.files === files ? loaded.index : null;
}
