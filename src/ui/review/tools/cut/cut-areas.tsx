'use client';
import { Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { drawingArea } from '@/core/drawing/drawing';
import type { Where } from '@/core/elements/element-set';
import { rowsWhere } from '@/core/elements/match-elements';
import type { FlatSection } from '@/stage/features/cuts/flat-section';
import type { StageModel } from '@/stage/model/stage-model';
import { useFlatSection } from '../../flat-drawing/use-flat-section';
import { useReview, useSession } from '../../session-context';

/** Names that are listed of elements whose surfaces are open. */
const MOST_NAMED = 3;

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
  const section = useFlatSection(plane);
  const areas = useMemo(
    () => section && areasOf(section, session.stage?.loadedModels ?? [], selection),
    [section, session, selection],
  );
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

function areasOf(section: FlatSection, models: readonly StageModel[], selection: readonly Where[]): Areas {
  const chosen = new Map(
    models.map(({ source, elements }) => [
      source.modelId,
      new Set(rowsWhere(selection, elements).map((row) => elements.index.guid[row])),
    ]),
  );
  let selected: number | null = null;
  const open: string[] = [];
  for (const { ref, name, area, isClosed } of section.elements) {
    if (chosen.get(ref.model)?.has(ref.guid)) selected = (selected ?? 0) + area;
    if (!isClosed) open.push(name);
  }
  return { all: drawingArea(section), selected, open };
}
