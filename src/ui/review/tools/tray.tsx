'use client';
import { Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { describeView } from '@/core/view/view-state';
import { Card, QuietButton, TOUCHED } from '../../controls';
import { useReview, useSession } from '../session-context';

interface TrayCardProps {
  label: string;
  /** Beside the column; on a phone it takes what there is. */
  width: string;
  /** As small as what is in it, on a phone too. */
  isSmall?: boolean;
  isHiddenOnPhone?: boolean;
  children: ReactNode;
}

/** The tray of a tool; says to those who do not see the picture what it shows. */
export function TrayCard({ label, width, isSmall, isHiddenOnPhone, children }: TrayCardProps) {
  const { names } = useSession();
  const view = useReview((state) => state.view);
  return (
    <Card
      p={isSmall ? '2' : '4'}
      // Beside the coin of the plan, where it covers nothing.
      {...(isSmall && { position: { base: 'fixed', md: 'static' }, top: '64px', left: '66px' })}
      w={{ base: isSmall ? 'auto' : 'min(360px, calc(100vw - 16px))', md: width }}
      maxH={{ base: '42dvh', md: 'calc(var(--tall) - 330px)' }}
      overflowY="auto"
      display={{ base: isHiddenOnPhone ? 'none' : 'block', md: 'block' }}
      role="group"
      aria-label={label}
    >
      {children}
      <Text srOnly role="status">
        {describeView(view, names) || 'Everything shows.'}
      </Text>
    </Card>
  );
}

interface TrayActProps {
  onClick: () => void;
  disabled?: boolean;
  pressed?: boolean;
  /** In more words than stand on it. */
  hint?: string;
  children: ReactNode;
}

export function TrayAct({ onClick, disabled, pressed, hint, children }: TrayActProps) {
  return (
    <QuietButton
      px="2.5"
      fontSize="sm"
      minH="38px"
      h="38px"
      css={{ [TOUCHED]: { minH: '44px', h: '44px' } }}
      title={hint}
      disabled={disabled}
      aria-pressed={pressed}
      bg={pressed ? 'felt' : undefined}
      onClick={onClick}
    >
      {children}
    </QuietButton>
  );
}
