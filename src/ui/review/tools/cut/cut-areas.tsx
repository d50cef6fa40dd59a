'use client';
import { Text } from '@chakra-ui/react';
import { useMemo, useSyncExternalStore } from 'react';
import type { Where } from '@/core/elements/element-set';
import { rowsWhere } from '@/core/elements/match-elements';
import type { ExactCut } from '@/stage/features/cuts/sections';
import { useReview, useSession } from '../../session-context';

/** Names that are listed of elements whose surfaces are open. */
const MOST_NAMED = 3;

const NOTHING: readonly ExactCut[] = [];

interface Areas {
  /** Square metres. */
  all: number;
  /** Of what is selected; null where nothing of it is cut. */
  selected: number | null;
  /** Elements whose surfaces do not close. */
  open: string[];
}

/** The areas of one plane's exact section, and what could not be filled. */
export function CutAreas({ plane }: { plane: string }) {
  const session = useSession();
  const selection = useReview((state) => state.view.selection);
  const exact = useSyncExternalStore(
    (changed) => session.onFrame(changed),
    () => session.stage?.sections.exact ?? NOTHING,
    () => NOTHING,
  );
  const areas = useMemo(() => areasOf(exact, plane, selection), [exact, plane, selection]);
  if (!areas) return null;
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

/** Null while the exact section is not there. */
function areasOf(exact: readonly ExactCut[], plane: string, selection: readonly Where[]): Areas | null {
  const sections = exact.filter(({ face }) => face.key === plane);
  if (sections.length === 0) return null;
  let all = 0;
  let selected: number | null = null;
  const open: string[] = [];
  for (const { model, cuts } of sections) {
    const chosen = new Set(rowsWhere(selection, model.elements));
    for (const { row, area, isClosed } of cuts) {
      all += area;
      if (chosen.has(row)) selected = (selected ?? 0) + area;
      if (!isClosed) open.push(model.index.name[row]!);
    }
  }
  return { all, selected, open };
}
