'use client';
import { Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { describeView } from '@/core/view/view-state';
import { Card, QuietButton } from '../../controls';
import { useReview, useSession } from '../session-context';

interface TrayCardProps {
  label: string;
  /** Beside the column; on a phone it takes what there is. */
  width: string;
  children: ReactNode;
}

/** The tray of a tool; says to those who do not see the picture what it shows. */
export function TrayCard({ label, width, children }: TrayCardProps) {
  const { names } = useSession();
  const view = useReview((state) => state.view);
  return (
    <Card
      p="4"
      w={{ base: 'min(360px, calc(100vw - 16px))', md: width }}
      maxH={{ base: '42dvh', md: 'calc(100dvh - 360px)' }}
      overflowY="auto"
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
  children: ReactNode;
}

export function TrayAct({ onClick, disabled, pressed, children }: TrayActProps) {
  return (
    <QuietButton
      px="3"
      fontSize="sm"
      disabled={disabled}
      aria-pressed={pressed}
      bg={pressed ? 'felt' : undefined}
      onClick={onClick}
    >
      {children}
    </QuietButton>
  );
}
