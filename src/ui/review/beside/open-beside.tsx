'use client';
import { SquareArrowOutUpRight } from 'lucide-react';
import { IconButton } from '../../controls';
import { useSession } from '../session-context';
import type { BesidePage } from './pages';

/** Opens a page in a window of its own, in step with this one. */
export function OpenBeside({ page, onOpen }: { page: BesidePage; onOpen?: () => void }) {
  const session = useSession();
  if (session.start.beside) return null;
  return (
    <IconButton
      label="In a window of its own"
      minW="36px"
      w="36px"
      h="36px"
      onClick={() => {
        window.open(session.addressOf({ beside: page }), `yurta-${page}`, 'popup,width=900,height=700');
        onOpen?.();
      }}
    >
      <SquareArrowOutUpRight size={16} aria-hidden />
    </IconButton>
  );
}
