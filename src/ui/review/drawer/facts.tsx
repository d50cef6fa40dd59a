'use client';
import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import { columnValue } from '@/core/elements/element-index';
import { soleElement } from '@/core/elements/element-set';
import { isEmptyBox, boxSize } from '@/core/math/box3';
import { api, messageOf } from '../../api';
import { QuietButton, Trouble } from '../../controls';
import { elementCount } from '../../words';
import { useReview, useSession } from '../session-context';

type FactSets = Record<string, Record<string, string | number | boolean | null>>;

/** What is known about the selected element. */
export function Facts() {
  const session = useSession();
  const selection = useReview((state) => state.view.selection);
  const ref = useMemo(() => soleElement(selection), [selection]);
  useReview((state) => state.loaded);
  const model = session.stage?.loadedModels.find((other) => other.source.modelId === ref?.model);
  const row = ref ? model?.rowOf.get(ref.guid) : undefined;
  const [sets, setSets] = useState<FactSets | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const revision = model?.source.revisionId;

  useEffect(() => {
    setSets(null);
    setTrouble(null);
    if (revision === undefined || row === undefined) return;
    let wanted = true;
    api.get<FactSets>(`/api/revisions/${revision}/facts/${row}`).then(
      (found) => wanted && setSets(found),
      (error: unknown) => wanted && setTrouble(messageOf(error)),
    );
    return () => {
      wanted = false;
    };
  }, [revision, row]);

  if (!ref || !model || row === undefined)
    return (
      <Text p="4" color="softInk">
        {selection.length > 0
          ? `${elementCount(session.stage?.count(selection) ?? 0)} selected. Tap one to see what is known about it.`
          : 'Tap something in the model to see what is known about it.'}
      </Text>
    );
  const { index } = model;
  const box = model.elementBox(row);
  const basic: [string, string][] = [
    ['Category', columnValue(index.category, row)],
    ['Type', index.type ? columnValue(index.type, row) : ''],
    ['Storey', index.storeys[index.storey[row]!]?.name ?? ''],
    ['Room', columnValue(index.room, row)],
    ['Material', columnValue(index.material, row)],
    ['System', columnValue(index.system, row)],
    [
      'Extent',
      isEmptyBox(box)
        ? ''
        : `${boxSize(box)
            .map((size) => Math.round(size * 1000))
            .join(' × ')} mm`,
    ],
  ];
  return (
    <Box p="4">
      <Heading as="h2" fontSize="lg">
        {index.name[row]}
      </Heading>
      <Flex gap="2" my="3" wrap="wrap">
        <QuietButton size="sm" onClick={() => session.view.hide(selection)}>
          Hide
        </QuietButton>
        <QuietButton size="sm" onClick={() => session.view.showOnly(selection)}>
          Show only
        </QuietButton>
        <QuietButton size="sm" onClick={() => session.view.flyTo(selection)}>
          Fly to
        </QuietButton>
      </Flex>
      <FactList facts={basic.filter(([, value]) => value)} />
      <Trouble text={trouble} />
      {Object.entries(sets ?? {}).map(([name, values]) => (
        <Box key={name} mt="4">
          <Heading as="h3" fontSize="sm" color="softInk">
            {setName(name)}
          </Heading>
          <FactList facts={Object.entries(values).map(([fact, value]) => [words(fact), shown(value)])} />
        </Box>
      ))}
    </Box>
  );
}

function FactList({ facts }: { facts: [string, string][] }) {
  return (
    <Box as="dl" fontSize="sm">
      {facts.map(([name, value]) => (
        <Flex key={name} gap="3" py="1" borderBottomWidth="1px" borderColor="felt">
          <Box as="dt" color="softInk" w="45%" flexShrink="0">
            {name}
          </Box>
          <Box as="dd" wordBreak="break-word">
            {value}
          </Box>
        </Flex>
      ))}
    </Box>
  );
}

/** `Pset_WallCommon` reads “Wall common”. */
function setName(name: string): string {
  return words(name.replace(/^(Pset|Qto)_/, ''));
}

function words(name: string): string {
  const spaced = name.replace(/(?<=[a-z0-9])(?=[A-Z])/g, ' ').toLowerCase();
  return spaced.charAt(0).toUpperCase() + spaced.slice(1);
}

function shown(value: string | number | boolean | null): string {
  if (value === null || value === '') return '–';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'number' ? String(Number(value.toPrecision(6))) : value;
}
