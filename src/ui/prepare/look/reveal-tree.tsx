'use client';
import { Box, Button, Checkbox, Flex, Text } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { searchElements } from '@/core/elements/contents';
import { revealBranches } from '@/core/reveal/reveal-index';
import type { RevealColumn } from '@/core/reveal/reveal-rule';
import { QuietButton, SearchField } from '../../pieces';
import { plainNumber } from '../../words';
import { BoxChoice } from './box-choice';
import type { LookSession } from './look-session';

const COLUMNS: [RevealColumn, string][] = [
  ['category', 'Category'],
  ['storey', 'Storey'],
  ['material', 'Material'],
  ['system', 'System'],
  ['discipline', 'Discipline'],
];
/** Branches lighter than this share show none. */
const SLIGHT = 0.005;

/** The content of a model with a tick for each part: what is ticked is revealed. */
export function RevealTree({ session }: { session: LookSession }) {
  const { rule, rows, selected, triangles } = useStore(session.store);
  const [column, setColumn] = useState<RevealColumn>('category');
  const [query, setQuery] = useState('');
  const index = rule ? session.stage?.loadedModels[0]?.index : undefined;
  const branches = useMemo(() => (index ? revealBranches(index, column, triangles) : []), [index, column, triangles]);
  const found = useMemo(() => (index && query.trim() ? searchElements(index, query) : []), [index, query]);
  if (!rule || !index) return <Text color="softInk">The model is arriving …</Text>;
  const withheld = new Set(rule.withheld.filter((branch) => branch.column === column).map((branch) => branch.value));
  const known = new Set(rule.knownCategories);
  const chosen = selected ? index.guid.indexOf(selected.guid) : -1;
  const guids = found.map((row) => index.guid[row]!);
  return (
    <Box as="section" aria-label="What to reveal">
      {chosen >= 0 && selected ? (
        <Flex bg="felt" borderRadius="lg" px="3" py="1" mb="3" align="center" gap="2">
          <Text flex="1" truncate>
            {selected.name}
          </Text>
          <QuietButton size="sm" onClick={() => session.setElements([selected.guid], !rows[chosen])}>
            {rows[chosen] ? 'Withhold it' : 'Reveal it'}
          </QuietButton>
        </Flex>
      ) : null}
      <BoxChoice session={session} selected={selected} />
      <SearchField
        label="Search the elements"
        placeholder="Search: sprinkler, draft, temporary …"
        value={query}
        onSearch={setQuery}
        mb="3"
      />
      {query.trim() ? (
        <Flex align="center" gap="2" wrap="wrap">
          <Text flex="1" role="status">
            {plainNumber(found.length)} found
          </Text>
          <QuietButton size="sm" disabled={guids.length === 0} onClick={() => session.setElements(guids, false)}>
            Withhold them
          </QuietButton>
          <QuietButton size="sm" disabled={guids.length === 0} onClick={() => session.setElements(guids, true)}>
            Reveal them
          </QuietButton>
        </Flex>
      ) : (
        <>
          <Flex role="group" aria-label="Ordered by" gap="1" mb="2" bg="felt" borderRadius="pill" p="1">
            {COLUMNS.map(([key, name]) => (
              <Button
                key={key}
                aria-pressed={column === key}
                onClick={() => setColumn(key)}
                flex="1 0 auto"
                h="36px"
                px="1"
                fontSize="sm"
                borderRadius="pill"
                bg={column === key ? 'card' : 'transparent'}
                color="ink"
                fontWeight={column === key ? 'bold' : 'normal'}
              >
                {name}
              </Button>
            ))}
          </Flex>
          <Box as="ul" listStyleType="none">
            {branches.map(({ value, count, weight }) => (
              <Box as="li" key={value}>
                <Checkbox.Root
                  checked={!withheld.has(value) && (column !== 'category' || known.has(value))}
                  onCheckedChange={({ checked }) => session.setBranch(column, value, checked === true)}
                  minH="40px"
                  w="full"
                >
                  <Checkbox.HiddenInput />
                  <Checkbox.Control borderColor="softInk" _checked={{ bg: 'ink', borderColor: 'ink', color: 'card' }} />
                  <Checkbox.Label flex="1" display="flex" gap="2">
                    <Text as="span" flex="1" truncate>
                      {value || `No ${COLUMNS.find(([key]) => key === column)![1].toLowerCase()}`}
                    </Text>
                    {column === 'category' && !known.has(value) ? (
                      <Text as="span" color="ochre" fontSize="sm">
                        new
                      </Text>
                    ) : null}
                    <Text as="span" color="softInk" fontSize="sm">
                      {plainNumber(count)}
                    </Text>
                    <Text as="span" color="softInk" fontSize="sm" w="48px" textAlign="right">
                      {weight < SLIGHT ? '' : `${Math.round(weight * 100)} %`}
                      <Text as="span" srOnly>
                        {weight < SLIGHT ? '' : ' of the weight'}
                      </Text>
                    </Text>
                  </Checkbox.Label>
                </Checkbox.Root>
              </Box>
            ))}
          </Box>
        </>
      )}
    </Box>
  );
}
