'use client';
import { Box, Editable, Flex, Text } from '@chakra-ui/react';
import { Copy, X } from 'lucide-react';
import { useStore } from 'zustand';
import { KIND_WORDS, type Measure } from '@/core/measure/measures';
import { measureRows } from '@/core/measure/measure-rows';
import { cardText, quantitiesOf, quantityText } from '@/core/measure/quantities';
import { mapPoint } from '@/core/placement/map-point';
import { lengthText, type Reading } from '@/core/units/figures';
import { RowAct } from '../../../controls';
import { useReading } from '../../../reading';
import { saveFile } from '../../../save-file';
import { useReview, useSession } from '../../session-context';
import { TrayAct } from '../tray';
import { measureName, type Measuring } from './measuring';

/** Errors are told in tenths of a millimetre. */
const ERROR_READING: Reading = { unit: 'mm', decimals: { m: 4, cm: 2, mm: 1 }, fraction: 64 };

/** What was measured: named, copied, removed, saved as a table. */
export function MeasureList({ measuring }: { measuring: Measuring }) {
  const session = useSession();
  const measures = useReview((state) => state.view.measures);
  const chosen = useStore(measuring.hand, (hand) => hand.chosen);
  const reading = useReading();
  // Rounded along each axis: so far in space.
  const rounding = useReview((state) => Math.sqrt(3) * Math.max(0, ...state.models.map((model) => model.rounding)));
  if (measures.length === 0) return null;
  const copy = (some: readonly Measure[]) =>
    session.act(() => navigator.clipboard.writeText(some.map((one) => asText(one, reading)).join('\n')));
  return (
    <Box borderTopWidth="1px" borderColor="seam" pt="2">
      <Box as="ul" listStyleType="none" aria-label="Measures">
        {measures.map((measure) => (
          <MeasureLine
            key={measure.id}
            measure={measure}
            isChosen={measure.id === chosen}
            measuring={measuring}
            onCopy={() => copy([measure])}
          />
        ))}
      </Box>
      <Flex gap="1.5" wrap="wrap" mt="2">
        <TrayAct onClick={() => copy(measures)}>Copy all</TrayAct>
        <TrayAct onClick={() => session.act(() => saveTable(measures, reading))}>Save as CSV</TrayAct>
        <TrayAct onClick={() => measuring.removeAll()}>Remove all</TrayAct>
      </Flex>
      <Text fontSize="sm" color="softInk" mt="2">
        Taken on the published models, whose corners lie within {lengthText(rounding, ERROR_READING)} of those in the
        files.
      </Text>
    </Box>
  );
}

interface MeasureLineProps {
  measure: Measure;
  isChosen: boolean;
  measuring: Measuring;
  onCopy: () => void;
}

function MeasureLine({ measure, isChosen, measuring, onCopy }: MeasureLineProps) {
  const reading = useReading();
  const name = measureName(measure);
  return (
    <Box as="li" borderRadius="l2" bg={isChosen ? 'felt' : undefined} px="2" mx="-2">
      <Flex align="center" gap="1">
        <Editable.Root
          flex="1"
          minW="0"
          size="sm"
          defaultValue={measure.name}
          placeholder={KIND_WORDS[measure.kind]}
          maxLength={120}
          onValueCommit={({ value }) => value.trim() !== measure.name && measuring.rename(measure.id, value)}
          key={measure.name}
        >
          <Editable.Preview minH="36px" w="full" truncate aria-label={`Rename ${name}`} />
          <Editable.Input aria-label={`Name of ${name}`} />
        </Editable.Root>
        <Box
          as="button"
          aria-pressed={isChosen}
          aria-label={`Point out ${name}`}
          onClick={() => measuring.choose(isChosen ? null : measure.id)}
          fontWeight="bold"
          fontSize="sm"
          minH="36px"
          cursor="pointer"
          whiteSpace="nowrap"
        >
          {measure.kind === 'place' ? 'at' : cardText(measure, reading)}
        </Box>
        <RowAct label={`Copy ${name}`} icon={<Copy size={15} aria-hidden />} onClick={onCopy} />
        <RowAct
          label={`Remove ${name}`}
          icon={<X size={15} aria-hidden />}
          onClick={() => measuring.remove(measure.id)}
        />
      </Flex>
      {isChosen || measure.kind === 'place' ? <Details measure={measure} reading={reading} /> : null}
    </Box>
  );
}

function Details({ measure, reading }: { measure: Measure; reading: Reading }) {
  const models = useReview((state) => state.models);
  const onMap = measure.kind === 'place' ? mapPoint(models, measure.points[0]!) : null;
  return (
    <Flex as="dl" wrap="wrap" columnGap="3" rowGap="0.5" pb="2" fontSize="sm">
      {quantitiesOf(measure).map((quantity) => (
        <Flex key={quantity.name} gap="1">
          <Text as="dt" color="softInk">
            {quantity.name}
          </Text>
          <Text as="dd">{quantityText(quantity, reading)}</Text>
        </Flex>
      ))}
      {onMap ? (
        <Text w="full" color="softInk">
          On the map{onMap.crs ? ` (${onMap.crs})` : ''}: east {onMap.at[0].toFixed(3)} m, north{' '}
          {onMap.at[1].toFixed(3)} m, height {onMap.at[2].toFixed(3)} m
        </Text>
      ) : null}
    </Flex>
  );
}

/** A measure in a line of text. */
function asText(measure: Measure, reading: Reading): string {
  const figures = quantitiesOf(measure).map((quantity) => `${quantity.name} ${quantityText(quantity, reading)}`);
  return [measureName(measure), ...figures].join('\t');
}

async function saveTable(measures: readonly Measure[], reading: Reading): Promise<void> {
  const { csvOf } = await import('@/core/exchange/csv');
  saveFile(new Blob([csvOf(measureRows(measures, reading))], { type: 'text/csv' }), 'measures.csv');
}
