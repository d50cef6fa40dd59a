'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { FlipHorizontal2, PencilRuler, Square, SquareDashed, X } from 'lucide-react';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import { PLAN_HEIGHT } from '@/core/plan/plan';
import { facedPlane, facing, flippedPlane, movedPlane, type CutBox, type CutPlane } from '@/core/cut/cuts';
import { describeSet } from '@/core/elements/describe-set';
import { IconButton, RowAct } from '../../../controls';
import { Toggle } from '../../../toggle';
import { useReview, useSession } from '../../session-context';
import { storeysOf } from '../../storeys';
import { SmallSelect } from '../../../small-select';
import { TrayAct, TrayCard } from '../tray';
import { CutAreas } from './cut-areas';
import { Cutting } from './cutting';
import { NumberField } from '../number-field';

const DEGREE = Math.PI / 180;
const FIRST_THICKNESS = 2;

/** Planes, a box, and what stays whole. */
export function CutTray() {
  const session = useSession();
  const cutting = useMemo(() => new Cutting(session), [session]);
  const view = useReview((state) => state.view);
  const picking = useReview((state) => state.picking);
  useReview((state) => state.loaded);
  const { planes, box, whole } = view.cuts;
  const hasCuts = planes.length > 0 || box !== null;
  const hasSelection = view.selection.length > 0;
  useEffect(() => {
    session.stage?.takeCuts(true);
    return () => session.stage?.takeCuts(false);
  }, [session]);
  return (
    <TrayCard label="Cut" width="300px">
      {planes.map((plane, i) => (
        <PlaneCard key={plane.id} plane={plane} label={`Plane ${i + 1}`} cutting={cutting} />
      ))}
      {box ? <BoxCard box={box} cutting={cutting} /> : null}
      {hasCuts ? (
        <Section>
          <Flex gap="2" wrap="wrap" align="center">
            <TrayAct disabled={!hasSelection} onClick={() => cutting.keepWhole()}>
              Keep the selected whole
            </TrayAct>
            <TrayAct onClick={() => cutting.removeAll()}>Remove all</TrayAct>
          </Flex>
          {whole.length > 0 ? (
            <Flex align="center">
              <Text fontSize="sm" flex="1">
                Whole: {describeSet(whole, session.names)}
              </Text>
              <IconButton label="Cut everything again" onClick={() => cutting.cutAll()}>
                <X size={16} aria-hidden />
              </IconButton>
            </Flex>
          ) : null}
        </Section>
      ) : null}
      <Text fontSize="sm" fontWeight="bold" mb="2" mt={hasCuts ? '3' : '0'}>
        {hasCuts ? 'Cut once more' : 'Cut'}
      </Text>
      <Flex gap="2" wrap="wrap">
        <TrayAct
          pressed={picking === 'face'}
          disabled={cutting.isFull}
          onClick={() => session.store.setState({ picking: picking === 'face' ? null : 'face' })}
        >
          On a face
        </TrayAct>
        <TrayAct disabled={cutting.isFull} onClick={() => cutting.acrossPicture()}>
          Across the picture
        </TrayAct>
        {(['x', 'y', 'z'] as const).map((axis, i) => (
          <TrayAct key={axis} disabled={cutting.isFull} onClick={() => cutting.acrossAxis(i as 0 | 1 | 2)}>
            <Box as="span" srOnly>
              Across{' '}
            </Box>
            {axis}
          </TrayAct>
        ))}
      </Flex>
      {picking === 'face' ? (
        <Text fontSize="sm" color="softInk" mt="2">
          Tap the face. What stands before it will be away.
        </Text>
      ) : null}
      <Storeys cutting={cutting} />
      <Flex gap="2" wrap="wrap" mt="2">
        <TrayAct disabled={!hasSelection} onClick={() => cutting.boxAroundSelection()}>
          Box around the selected
        </TrayAct>
        <TrayAct onClick={() => cutting.boxAroundSeen()}>Box around what is seen</TrayAct>
        <TrayAct
          pressed={picking === 'room'}
          onClick={() => session.store.setState({ picking: picking === 'room' ? null : 'room' })}
        >
          Box around a room
        </TrayAct>
      </Flex>
      {picking === 'room' ? (
        <Text fontSize="sm" color="softInk" mt="2">
          Tap the floor of the room.
        </Text>
      ) : null}
    </TrayCard>
  );
}

/** A level cut or a box by storey. */
function Storeys({ cutting }: { cutting: Cutting }) {
  const storeys = storeysOf(useSession().stage);
  const [chosen, setChosen] = useState(0);
  const [height, setHeight] = useState(PLAN_HEIGHT);
  if (storeys.length === 0) return null;
  const at = Math.min(chosen, storeys.length - 1);
  return (
    <Box mt="3">
      <Flex gap="2" align="end">
        <SmallSelect
          label="Storey"
          value={String(at)}
          options={storeys.map(({ name }, i) => [String(i), name])}
          onChange={(value) => setChosen(Number(value))}
        />
        <NumberField label="Height" unit="m" value={height} onCommit={setHeight} />
      </Flex>
      <Flex gap="2" mt="2" wrap="wrap">
        <TrayAct disabled={cutting.isFull} onClick={() => cutting.aboveFloor(storeys[at]!.elevation, height)}>
          Level
        </TrayAct>
        <TrayAct onClick={() => cutting.boxAroundStorey(storeys, at)}>Box around the storey</TrayAct>
      </Flex>
    </Box>
  );
}

function PlaneCard({ plane, label, cutting }: { plane: CutPlane; label: string; cutting: Cutting }) {
  const { id, offset, thickness, isOn, isFramed } = plane;
  const { around, up } = facing(plane);
  const change = (to: (plane: CutPlane) => CutPlane) => cutting.change(id, to);
  return (
    <Section label={label}>
      <Flex align="center">
        <Toggle
          checked={isOn}
          onToggle={() => change((one) => ({ ...one, isOn: !isOn }))}
          name={`${label} cuts`}
          flex="1"
        >
          <b>{label}</b>
        </Toggle>
        <RowAct
          label={`Flip ${label}`}
          onClick={() => change(flippedPlane)}
          icon={<FlipHorizontal2 size={18} aria-hidden />}
        />
        <DrawingButton face={id} label={label} disabled={!isOn} />
        <RowAct
          label={`${isFramed ? 'Hide' : 'Show'} the frame of ${label}`}
          onClick={() => change((one) => ({ ...one, isFramed: !isFramed }))}
          icon={isFramed ? <Square size={18} aria-hidden /> : <SquareDashed size={18} aria-hidden />}
        />
        <RowAct label={`Remove ${label}`} onClick={() => cutting.remove(id)} icon={<X size={18} aria-hidden />} />
      </Flex>
      <Flex gap="2" wrap="wrap">
        <NumberField
          label="Offset"
          unit="m"
          value={offset}
          onCommit={(value) => change((one) => movedPlane(one, value))}
        />
        <NumberField
          label="Faces"
          unit="°"
          value={around / DEGREE}
          digits={1}
          onCommit={(value) => change((one) => facedPlane(one, { around: value * DEGREE, up }))}
        />
        <NumberField
          label="Tilt"
          unit="°"
          value={up / DEGREE}
          digits={1}
          onCommit={(value) =>
            change((one) => facedPlane(one, { around, up: Math.max(-90, Math.min(90, value)) * DEGREE }))
          }
        />
      </Flex>
      <CutAreas plane={id} />
      <Flex gap="2" align="center">
        <Toggle
          checked={thickness !== null}
          onToggle={(isSlice) => change((one) => ({ ...one, thickness: isSlice ? FIRST_THICKNESS : null }))}
          flex="1"
        >
          Slice
        </Toggle>
        {thickness === null ? null : (
          <NumberField
            label="Thickness"
            unit="m"
            value={thickness}
            onCommit={(value) => value > 0 && change((one) => ({ ...one, thickness: value }))}
          />
        )}
      </Flex>
    </Section>
  );
}

function BoxCard({ box, cutting }: { box: CutBox; cutting: Cutting }) {
  return (
    <Section label="Box">
      <Flex align="center">
        <Toggle
          checked={box.isOn}
          onToggle={(isOn) => cutting.changeBox({ ...box, isOn })}
          name="The box cuts"
          flex="1"
        >
          <b>Box</b>
        </Toggle>
        <DrawingButton face="box 4" label="the box" disabled={!box.isOn} />
        <RowAct
          label={`${box.isFramed ? 'Hide' : 'Show'} the frame of the box`}
          onClick={() => cutting.changeBox({ ...box, isFramed: !box.isFramed })}
          icon={box.isFramed ? <Square size={18} aria-hidden /> : <SquareDashed size={18} aria-hidden />}
        />
        <RowAct label="Remove the box" onClick={() => cutting.changeBox(null)} icon={<X size={18} aria-hidden />} />
      </Flex>
      <Flex gap="2" wrap="wrap">
        {['Length', 'Width', 'Height'].map((label, i) => (
          <NumberField
            key={label}
            label={label}
            unit="m"
            value={box.size[i]!}
            onCommit={(value) =>
              value > 0 &&
              cutting.changeBox({
                ...box,
                size: box.size.map((edge, k) => (k === i ? value : edge)) as typeof box.size,
              })
            }
          />
        ))}
        <NumberField
          label="Turned"
          unit="°"
          digits={1}
          value={box.turn / DEGREE}
          onCommit={(value) => cutting.changeBox({ ...box, turn: value * DEGREE })}
        />
      </Flex>
    </Section>
  );
}

/** Shows the section in a face square on. */
function DrawingButton({ face, label, disabled }: { face: string; label: string; disabled: boolean }) {
  const session = useSession();
  const isOpen = useReview((state) => state.drawing === face);
  return (
    <RowAct
      label={`Flat drawing of ${label}`}
      aria-pressed={isOpen}
      bg={isOpen ? 'felt' : undefined}
      disabled={disabled}
      onClick={() => session.store.setState({ drawing: isOpen ? null : face })}
      icon={<PencilRuler size={18} aria-hidden />}
    />
  );
}

function Section({ label, children }: { label?: string; children: ReactNode }) {
  return (
    <Box pb="2" mb="2" borderBottomWidth="1px" borderColor="seam" role={label ? 'group' : undefined} aria-label={label}>
      {children}
    </Box>
  );
}
