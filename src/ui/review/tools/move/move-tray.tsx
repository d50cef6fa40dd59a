'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { ChevronDown, ChevronUp, Footprints } from 'lucide-react';
import { useState } from 'react';
import { IconButton, PrimaryButton } from '../../../controls';
import { SIDES, type Side } from '../../moving/moving';
import { useReview, useSession } from '../../session-context';
import { storeysOf } from '../../storeys';
import { SmallSelect } from '../../../small-select';
import { TrayAct, TrayCard } from '../tray';

/** Stand in the model; more ways to be elsewhere unfold below. */
export function MoveTray() {
  const session = useSession();
  const picking = useReview((state) => state.picking);
  const gait = useReview((state) => state.gait);
  const [isOpen, setOpen] = useState(false);
  const pick = (what: string) => session.store.setState({ picking: picking === what ? null : what });
  return (
    <TrayCard label="Move" width={isOpen ? '280px' : 'auto'} isSmall isHiddenOnPhone={gait !== null}>
      <Flex gap="1" align="center">
        <PrimaryButton px="4" bg="ink" color="wool" aria-pressed={picking === 'stand'} onClick={() => pick('stand')}>
          <Footprints size={18} aria-hidden />
          Stand here
        </PrimaryButton>
        <IconButton
          label={isOpen ? 'Fewer ways to move' : 'More ways to move'}
          aria-expanded={isOpen}
          onClick={() => setOpen(!isOpen)}
        >
          {isOpen ? <ChevronUp size={18} aria-hidden /> : <ChevronDown size={18} aria-hidden />}
        </IconButton>
      </Flex>
      {picking === 'stand' ? (
        <Text fontSize="sm" color="softInk" mt="2" maxW="240px">
          Tap the place where you want to stand.
        </Text>
      ) : null}
      {isOpen ? (
        <>
          <Flex gap="2" wrap="wrap" mt="3">
            <TrayAct
              hint="Stands on the floor below where you are"
              onClick={() => session.act(() => session.moving.standBelow())}
            >
              Stand below me
            </TrayAct>
            <TrayAct
              pressed={gait === 'fly'}
              hint="Arrow keys, Page Up and Page Down fly"
              onClick={() => session.moving.fly()}
            >
              Fly
            </TrayAct>
            <TrayAct pressed={picking === 'window'} onClick={() => pick('window')}>
              Zoom to a window
            </TrayAct>
            <Places />
          </Flex>
          {picking === 'window' ? (
            <Text fontSize="sm" color="softInk" mt="2">
              Draw the window on the picture.
            </Text>
          ) : null}
          <SquareOn />
        </>
      ) : null}
    </TrayCard>
  );
}

/** Back and forth through the places visited. */
function Places() {
  const session = useSession();
  const { hasBack, hasForth } = useReview((state) => state.visited);
  return (
    <>
      <TrayAct disabled={!hasBack} hint="The place before (B)" onClick={() => session.moving.step(-1)}>
        Place before
      </TrayAct>
      <TrayAct disabled={!hasForth} hint="The place after (N)" onClick={() => session.moving.step(1)}>
        Place after
      </TrayAct>
    </>
  );
}

/** Views as in drawings. */
function SquareOn() {
  const session = useSession();
  const isParallel = useReview((state) => state.view.camera.parallel === true);
  useReview((state) => state.loaded);
  const storeys = storeysOf(session.stage);
  return (
    <Box mt="3" pt="3" borderTopWidth="1px" borderColor="seam">
      <Text fontSize="sm" fontWeight="bold" mb="1">
        As in drawings
      </Text>
      <Flex gap="2" wrap="wrap">
        <TrayAct pressed={isParallel} onClick={() => session.moving.switchPerspective()}>
          Without perspective
        </TrayAct>
      </Flex>
      <Flex gap="2" mt="2">
        <SmallSelect
          label="Look square on"
          value=""
          options={[['', 'Look from …'], ...Object.entries(SIDES).map(([side, { label }]) => [side, label] as const)]}
          onChange={(side) => side && session.moving.lookFrom(side as Side)}
        />
      </Flex>
      {storeys.length > 0 ? (
        <Flex gap="2" mt="2">
          <SmallSelect
            label="Plan of a storey"
            value=""
            options={[['', 'Plan of …'], ...storeys.map(({ name }, i) => [String(i), name] as const)]}
            onChange={(at) => at && session.moving.lookAtPlan(storeys, Number(at))}
          />
        </Flex>
      ) : null}
    </Box>
  );
}
