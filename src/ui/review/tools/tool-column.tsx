'use client';
import { Button, Flex, Text } from '@chakra-ui/react';
import { Expand, Redo2, Undo2, type LucideIcon } from 'lucide-react';
import { lazy, Suspense, type ComponentType } from 'react';
import { Card } from '../../controls';
import { useReview, useSession } from '../session-context';
import { TOOLS, toolsFor, type ToolName } from './registry';
import { useToolKeys } from './use-tool-keys';

const Nothing: ComponentType = () => null;

/** The trays, each with its code once it is first opened. */
const TRAYS = Object.fromEntries(
  TOOLS.map(({ name, load }) => [name, lazy(async () => ({ default: (await load()).Tray ?? Nothing }))]),
) as unknown as Record<ToolName, ComponentType>;

/** The column of tools, one at a time; the tray of the one in hand stands beside it. */
export function ToolColumn() {
  const session = useSession();
  const tool = useReview((state) => state.tool);
  const undoable = useReview((state) => state.undoable);
  const redoable = useReview((state) => state.redoable);
  useToolKeys(session);
  const Tray = TRAYS[tool];
  return (
    <Flex
      data-covers
      position="absolute"
      zIndex="10"
      left={{ base: '8px', md: '20px' }}
      right={{ base: '8px', md: 'auto' }}
      top={{ md: '84px' }}
      bottom={{ base: '12px', md: 'auto' }}
      direction={{ base: 'column-reverse', md: 'row' }}
      gap="3"
      align={{ base: 'center', md: 'start' }}
      pointerEvents="none"
      css={{ '& > *': { pointerEvents: 'auto' } }}
    >
      <Card
        as="nav"
        aria-label="Verbs"
        p={{ base: '1', md: '1.5' }}
        display="flex"
        flexDirection={{ base: 'row', md: 'column' }}
        gap={{ base: '0', md: '1' }}
        maxW="full"
        overflowX="auto"
      >
        {toolsFor(session.start.rights).map(({ name, label, key, icon, help }) => (
          <ColumnButton
            key={name}
            label={label}
            hint={`${label} (${key.toUpperCase()}). ${help}`}
            icon={icon}
            pressed={name === tool}
            onClick={() => session.setTool(name === tool ? 'move' : name)}
          />
        ))}
        <ColumnButton
          label="Whole"
          hint="See the whole model (W)"
          icon={Expand}
          onClick={() => session.view.showWhole()}
        />
        <Flex flexShrink="0">
          <StepButton
            label="Undo"
            hint="Undo (Ctrl Z)"
            icon={Undo2}
            disabled={undoable === 0}
            onClick={() => session.view.undo()}
          />
          <StepButton
            label="Redo"
            hint="Redo (Ctrl Shift Z)"
            icon={Redo2}
            disabled={redoable === 0}
            onClick={() => session.view.redo()}
          />
        </Flex>
      </Card>
      <Suspense>
        <Tray />
      </Suspense>
    </Flex>
  );
}

interface ColumnButtonProps {
  label: string;
  hint: string;
  icon: LucideIcon;
  pressed?: boolean;
  disabled?: boolean;
  onClick: () => void;
}

function ColumnButton({ label, hint, icon: Icon, pressed, disabled, onClick }: ColumnButtonProps) {
  return (
    <Button
      aria-pressed={pressed}
      title={hint}
      onClick={onClick}
      disabled={disabled}
      variant="ghost"
      flexDirection="column"
      gap="1"
      px="0"
      minW="0"
      w={{ base: '44px', md: '60px' }}
      flexShrink="0"
      h="56px"
      borderRadius="14px"
      bg={pressed ? 'ink' : 'transparent'}
      color={pressed ? 'wool' : 'ink'}
      _hover={{ bg: pressed ? 'ink' : 'felt' }}
    >
      <Icon size={22} aria-hidden />
      <Text fontSize={{ base: '11px', md: 'sm' }}>{label}</Text>
    </Button>
  );
}

/** Half as wide: two of them share a line of the column. */
function StepButton({ label, hint, icon: Icon, disabled, onClick }: ColumnButtonProps) {
  return (
    <Button
      aria-label={label}
      title={hint}
      onClick={onClick}
      disabled={disabled}
      variant="ghost"
      color="ink"
      p="0"
      minW="0"
      w={{ base: '44px', md: '30px' }}
      flexShrink="0"
      h={{ base: '56px', md: '44px' }}
      borderRadius="14px"
      _hover={{ bg: 'felt' }}
    >
      <Icon size={20} aria-hidden />
    </Button>
  );
}
