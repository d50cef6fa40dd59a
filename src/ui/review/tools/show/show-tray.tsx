'use client';
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { describeSet, describeWheres } from '@/core/elements/describe-set';
import { ALL_ELEMENTS, setOf, withoutElements } from '@/core/elements/element-set';
import { colourName, TINTS } from '@/core/view/colouring';
import { CLEAREST } from '@/core/view/fades';
import { SPREADS, type Spread } from '@/core/view/spread';
import { IconButton } from '../../../controls';
import { useReview, useSession } from '../../session-context';
import { RangeSlider } from '../range-slider';
import { TrayAct, TrayCard } from '../tray';

const FIRST_FADE = 0.75;
const FIRST_SPREAD = 0.35;
const SPREAD_NAMES: Record<Spread['by'], string> = { storey: 'Storeys', category: 'Categories', outward: 'Outward' };

/** Hide, show only, colour, fade, spread. */
export function ShowTray() {
  const session = useSession();
  const selection = useReview((state) => state.view.selection);
  const fades = useReview((state) => state.view.fades);
  useReview((state) => state.loaded);
  const { names } = session;
  const count = session.stage?.count(selection) ?? 0;
  const nothing = count === 0;
  return (
    <TrayCard label="Show" width="280px">
      <Text fontSize="sm" mb="2" wordBreak="break-word">
        {nothing ? (
          <Box as="span" color="softInk">
            Tap something, or choose a branch in Contents.
          </Box>
        ) : (
          <b>{count === 1 ? describeWheres(selection, names) : `${count} elements`}</b>
        )}
      </Text>
      <Flex gap="2" wrap="wrap">
        <TrayAct disabled={nothing} onClick={() => session.view.hide(selection)}>
          Hide
        </TrayAct>
        <TrayAct disabled={nothing} onClick={() => session.view.showOnly(selection)}>
          Show only
        </TrayAct>
        <TrayAct disabled={nothing} onClick={() => session.view.fade(setOf(selection), FIRST_FADE)}>
          Fade
        </TrayAct>
        <TrayAct
          disabled={nothing}
          onClick={() => session.view.fade(withoutElements(ALL_ELEMENTS, selection), FIRST_FADE)}
        >
          Fade the rest
        </TrayAct>
        <TrayAct onClick={() => session.view.showAll()}>Show all</TrayAct>
      </Flex>
      <ColourSection />
      {fades.length > 0 ? (
        <Section title="Faded">
          {fades.map(({ of, clear }, i) => {
            const label = describeSet(of, names);
            return (
              <Box key={JSON.stringify(of)} mt={i > 0 ? '2' : '0'}>
                <Flex align="center">
                  <Text fontSize="sm" flex="1" truncate title={label}>
                    {label}
                  </Text>
                  <IconButton label={`Fade ${label} no more`} onClick={() => session.view.unfade(i)}>
                    <X size={16} aria-hidden />
                  </IconButton>
                </Flex>
                <Amount
                  label={`How clear: ${label}`}
                  value={clear}
                  max={CLEAREST}
                  onMove={(value) => session.view.fade(of, value, true)}
                  onEnd={(value) => session.view.fade(of, value)}
                />
              </Box>
            );
          })}
        </Section>
      ) : null}
      <SpreadSection />
    </TrayCard>
  );
}

/** Colours for what is chosen, and what has one. */
function ColourSection() {
  const session = useSession();
  const selection = useReview((state) => state.view.selection);
  const colouring = useReview((state) => state.view.colouring);
  const give = (colour: string) => {
    session.view.colour(setOf(selection), colour);
    session.view.select([]); // what is selected shows in indigo
  };
  return (
    <Section title="Colour">
      <Flex wrap="wrap" ml="-2" role="group" aria-label="Colour for what is chosen">
        {Object.entries(TINTS).map(([name, colour]) => (
          <IconButton
            key={name}
            label={name}
            minW="41px"
            disabled={selection.length === 0}
            onClick={() => give(colour)}
          >
            <Box w="22px" h="22px" borderRadius="50%" borderWidth="1px" borderColor="seam" bg={colour} />
          </IconButton>
        ))}
      </Flex>
      {colouring.map(({ of, colour }, i) => {
        const label = describeSet(of, session.names);
        return (
          <Flex key={JSON.stringify(of)} align="center" gap="2" mt="1">
            <Input
              type="color"
              aria-label={`Colour of ${label}`}
              title={colourName(colour)}
              w="40px"
              minW="40px"
              h="36px"
              p="1"
              borderColor="seam"
              value={colour}
              onChange={({ target }) => session.view.colour(of, target.value, true)}
              onBlur={({ target }) => session.view.colour(of, target.value)}
            />
            <Text fontSize="sm" flex="1" truncate title={label}>
              {label}
            </Text>
            <IconButton label={`Own colours for ${label}`} onClick={() => session.view.uncolour(i)}>
              <X size={16} aria-hidden />
            </IconButton>
          </Flex>
        );
      })}
    </Section>
  );
}

function SpreadSection() {
  const session = useSession();
  const spread = useReview((state) => state.view.spread);
  const selection = useReview((state) => state.view.selection);
  return (
    <Section title="Spread">
      <Flex role="radiogroup" aria-label="Spread by" gap="1" bg="felt" borderRadius="pill" p="1">
        {SPREADS.map((by) => {
          const isChosen = spread?.by === by;
          return (
            <Button
              key={by}
              role="radio"
              aria-checked={isChosen}
              variant="ghost"
              flex="1"
              minH="36px"
              h="36px"
              px="1"
              fontSize="sm"
              borderRadius="pill"
              bg={isChosen ? 'card' : 'transparent'}
              fontWeight={isChosen ? 'bold' : 'normal'}
              color="ink"
              _hover={{ bg: 'card' }}
              onClick={() =>
                session.view.spread(
                  isChosen
                    ? null
                    : { by, amount: spread?.amount ?? FIRST_SPREAD, from: by === 'outward' ? selection : [] },
                )
              }
            >
              {SPREAD_NAMES[by]}
            </Button>
          );
        })}
      </Flex>
      {spread ? (
        <Box mt="2">
          <Amount
            label="How far apart"
            value={spread.amount}
            max={1}
            onMove={(amount) => session.view.spread({ ...spread, amount: Math.max(amount, 0.01) }, true)}
            onEnd={(amount) => session.view.spread({ ...spread, amount })}
          />
        </Box>
      ) : null}
    </Section>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box mt="3" pt="3" borderTopWidth="1px" borderColor="seam">
      <Text fontSize="sm" fontWeight="bold" mb="1">
        {title}
      </Text>
      {children}
    </Box>
  );
}

interface AmountProps {
  label: string;
  /** 0..max */
  value: number;
  max: number;
  onMove: (value: number) => void;
  onEnd: (value: number) => void;
}

function Amount({ label, value, max, onMove, onEnd }: AmountProps) {
  return (
    <RangeSlider
      label={label}
      value={value}
      min={0}
      max={max}
      step={0.01}
      text={(share) => `${Math.round(share * 100)} %`}
      onMove={onMove}
      onEnd={onEnd}
    />
  );
}
