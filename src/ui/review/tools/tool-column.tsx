'use client';
import { Box, Button, Flex, Text, type SystemStyleObject } from '@chakra-ui/react';
import { Camera, Ellipsis, Expand, Redo2, Undo2, type LucideIcon } from 'lucide-react';
import { lazy, Suspense, type ComponentType } from 'react';
import { Card } from '../../controls';
import { LateMenu } from '../../late-menu';
import { useReview, useSession } from '../session-context';
import { TOOLS, toolsFor, type RegisteredTool, type ToolName } from './registry';
import { useToolKeys } from './use-tool-keys';

/** What a guest meets first. */
const FIRST: readonly ToolName[] = ['move', 'measure', 'say'];

const Nothing: ComponentType = () => null;

/** Tightens the column on screens that are wide but low. */
const lowScreen = (css: SystemStyleObject): SystemStyleObject => ({
  '@media (min-width: 768px) and (max-height: 860px)': css,
});

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
  const tools = toolsFor(session.start.rights);
  const steps: ColumnButtonProps[] = [
    { label: 'Whole', hint: 'See the whole model (W)', icon: Expand, onClick: () => session.view.showWhole() },
    {
      label: 'Pictures',
      hint: 'Take pictures, and those that were kept (P)',
      icon: Camera,
      onClick: () => session.store.setState({ pictures: true }),
    },
    { label: 'Undo', hint: 'Undo (Ctrl Z)', icon: Undo2, disabled: undoable === 0, onClick: () => session.view.undo() },
    {
      label: 'Redo',
      hint: 'Redo (Ctrl Shift Z)',
      icon: Redo2,
      disabled: redoable === 0,
      onClick: () => session.view.redo(),
    },
  ];
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
      // The gap between column and tray belongs to the picture.
      css={{ '&&': { pointerEvents: 'none' }, '& > *': { pointerEvents: 'auto' } }}
    >
      <Card
        as="nav"
        aria-label="Verbs"
        p={{ base: '1', md: '1.5' }}
        display="flex"
        flexDirection={{ base: 'row', md: 'column' }}
        gap={{ base: '0', md: '1' }}
        css={lowScreen({ gap: 0 })}
        maxW="full"
        overflowX={{ base: 'auto', md: 'visible' }}
        // Above the options and the running order.
        maxH={{ md: 'calc(var(--tall) - 84px - 242px)' }}
        overflowY={{ md: 'auto' }}
      >
        {tools.map(({ name, label, key, icon, help }) => (
          <ColumnButton
            key={name}
            label={label}
            hint={`${label} (${key.toUpperCase()}). ${help}`}
            icon={icon}
            pressed={name === tool}
            isFolded={!FIRST.includes(name) && name !== tool}
            onClick={() => session.setTool(name === tool ? 'move' : name)}
          />
        ))}
        <Flex display={{ base: 'none', md: 'flex' }} wrap="wrap" w="60px">
          {steps.map((step) => (
            <StepButton key={step.label} {...step} />
          ))}
        </Flex>
        <More tools={tools.filter(({ name }) => !FIRST.includes(name) && name !== tool)} steps={steps} />
      </Card>
      <Suspense>
        <Tray />
      </Suspense>
    </Flex>
  );
}

/** The rest on a phone, where the column is a row. */
function More({ tools, steps }: { tools: RegisteredTool[]; steps: ColumnButtonProps[] }) {
  const session = useSession();
  return (
    <Box display={{ base: 'block', md: 'none' }}>
      <LateMenu
        items={[
          ...tools.map(({ name, label, icon }) => ({ value: name, label, icon })),
          ...steps.map(({ label, icon, disabled }) => ({ value: label, label, icon, disabled })),
        ]}
        onSelect={(value) => {
          const tool = tools.find(({ name }) => name === value);
          if (tool) session.setTool(tool.name);
          else steps.find(({ label }) => label === value)?.onClick();
        }}
      >
        <Button variant="ghost" h="56px" w="52px" px="0" flexDirection="column" gap="1" color="ink" borderRadius="14px">
          <Ellipsis size={22} aria-hidden />
          <Text fontSize="11px">More</Text>
        </Button>
      </LateMenu>
    </Box>
  );
}

interface ColumnButtonProps {
  label: string;
  hint: string;
  icon: LucideIcon;
  pressed?: boolean;
  /** On a phone it stands in the menu instead. */
  isFolded?: boolean;
  disabled?: boolean;
  onClick: () => void;
}

function ColumnButton({ label, hint, icon: Icon, pressed, isFolded, disabled, onClick }: ColumnButtonProps) {
  return (
    <Button
      aria-pressed={pressed}
      title={hint}
      onClick={onClick}
      disabled={disabled}
      variant="ghost"
      display={{ base: isFolded ? 'none' : 'flex', md: 'flex' }}
      flexDirection="column"
      gap="1"
      px="0"
      minW="0"
      w={{ base: '56px', md: '60px' }}
      flexShrink="0"
      h="56px"
      css={lowScreen({ height: '47px', gap: 0 })}
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
