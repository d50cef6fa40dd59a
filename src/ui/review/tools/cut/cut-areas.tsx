'use client';
import { Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { rowsWhere } from '@/core/elements/match-elements';
import type { ReviewSession } from '../../session';
import { useReview, useSession } from '../../session-context';

/** Names that are listed of elements whose surfaces are open. */
const MOST_NAMED = 3;

interface Areas {
  /** Square metres; null while the exact section is not there. */
  all: number | null;
  /** Of what is selected; null where nothing of it is cut. */
  selected: number | null;
  /** Elements whose surfaces do not close. */
  open: string[];
}

/** The areas of one plane's exact section, and what could not be filled. */
export function CutAreas({ plane }: { plane: string }) {
  const session = useSession();
  const selection = useReview((state) => state.view.selection);
  const [areas, setAreas] = useState<Areas>({ all: null, selected: null, open: [] });
  useEffect(() => {
    const look = () =>
      setAreas((before) => {
        const now = areasOf(session, plane);
        return JSON.stringify(now) === JSON.stringify(before) ? before : now;
      });
    look();
    return session.onFrame(look);
  }, [session, plane, selection]);
  if (areas.all === null) return null;
  const { open } = areas;
  return (
    <Text fontSize="sm" color="softInk" aria-live="polite">
      Cut area {areas.all.toFixed(2)} m²
      {areas.selected === null ? '' : `, of the selected ${areas.selected.toFixed(2)} m²`}
      {open.length === 0
        ? ''
        : `. Open, drawn as lines: ${open.slice(0, MOST_NAMED).join(', ')}${open.length > MOST_NAMED ? ` and ${open.length - MOST_NAMED} more` : ''}`}
    </Text>
  );
}

function areasOf(session: ReviewSession, plane: string): Areas {
  const { selection } = session.store.getState().view;
  const sections = (session.stage?.sections.exact ?? []).filter(({ face }) => face.key === plane);
  if (sections.length === 0) return { all: null, selected: null, open: [] };
  let all = 0;
  let selected: number | null = null;
  const open: string[] = [];
  for (const { model, cuts } of sections) {
    const chosen = new Set(selection.length > 0 ? rowsWhere(selection, model.elements) : []);
    for (const { row, area, isClosed } of cuts) {
      all += area;
      if (chosen.has(row)) selected = (selected ?? 0) + area;
      if (!isClosed) open.push(model.index.name[row]!);
    }
  }
  return { all, selected, open };
}
