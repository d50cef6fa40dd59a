'use client';
import { Menu, Portal } from '@chakra-ui/react';
import { Download } from 'lucide-react';
import { plainDrawing } from '@/core/drawing/plain-drawing';
import type { DrawingTitle } from '@/core/drawing/drawing';
import type { FlatSection } from '@/stage/features/cuts/flat-section';
import { api } from '../../api';
import { IconButton } from '../../controls';
import { saveFile } from '../../save-file';
import { timeText } from '../../time';
import type { ReviewSession } from '../session';
import { useSession } from '../session-context';

const SCALES = [50, 100, 200];
/** A drawing as SVG is at the scale in the middle; it can be drawn at any. */
const SVG_SCALE = 100;

/** Hands a flat drawing out: as PDF at a true scale, as SVG, as DXF. */
export function HandOut({ section, name }: { section: FlatSection | null; name: string }) {
  const session = useSession();
  const act = (work: (section: FlatSection, title: DrawingTitle) => Promise<void>) =>
    section && session.act(() => work(section, titleOf(session, name)));
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }}>
      <Menu.Trigger asChild>
        <IconButton label="Save the drawing" disabled={!section || section.elements.length === 0}>
          <Download size={18} aria-hidden />
        </IconButton>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner zIndex="40">
          <Menu.Content bg="card" color="ink" borderWidth="1px" borderColor="seam" borderRadius="card">
            {SCALES.map((scale) => (
              <Item
                key={scale}
                label={`PDF at 1:${scale}`}
                onSelect={() => act((one, title) => savePdf(session, one, title, scale))}
              />
            ))}
            <Item
              label="SVG"
              onSelect={() =>
                act(async (one, title) => {
                  const { drawingSvg } = await import('@/core/drawing/svg');
                  saveFile(
                    new Blob([drawingSvg(one, title, SVG_SCALE)], { type: 'image/svg+xml' }),
                    fileName(title, 'svg'),
                  );
                })
              }
            />
            <Item
              label="DXF"
              onSelect={() =>
                act(async (one, title) => {
                  const { drawingDxf } = await import('@/core/drawing/dxf');
                  saveFile(new Blob([drawingDxf(one)], { type: 'image/vnd.dxf' }), fileName(title, 'dxf'));
                })
              }
            />
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}

function Item({ label, onSelect }: { label: string; onSelect: () => void }) {
  return (
    <Menu.Item
      value={label}
      onSelect={onSelect}
      minH="44px"
      fontSize="sm"
      borderRadius="l2"
      _highlighted={{ bg: 'felt' }}
    >
      {label}
    </Menu.Item>
  );
}

async function savePdf(
  session: ReviewSession,
  section: FlatSection,
  title: DrawingTitle,
  scale: number,
): Promise<void> {
  const pdf = await api.file(`/api/projects/${session.start.project.id}/drawing.pdf`, {
    drawing: plainDrawing(section),
    title,
    scale,
  });
  saveFile(pdf, fileName(title, 'pdf'));
}

function titleOf(session: ReviewSession, name: string): DrawingTitle {
  const { models } = session.store.getState();
  return {
    title: `${session.start.project.name}: ${name}`,
    revision: models.map((model) => `${model.name} ${model.code}`).join(', '),
    date: timeText(new Date().toISOString(), 'day'),
  };
}

function fileName({ title }: DrawingTitle, ending: string): string {
  return `${title.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '')}.${ending}`;
}
