'use client';
import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { searchElements } from '@/core/elements/contents';
import { branchesBy, type BranchColumn } from '@/core/elements/branches';
import { plainNumber } from '@/core/plain-number';
import { QuietButton, SearchField } from '../../controls';
import { BoxChoice } from './box-choice';
import type { LookSession } from './look-session';
import { BranchRow, COLUMN_NAMES, Elements } from './reveal-branch';

/** The content of a model as a tree with a tick for each part: what is ticked is revealed. */
export function RevealTree({ session }: { session: LookSession }) {
  const { rule, rows, selected, triangles } = useStore(session.store);
  const [column, setColumn] = useState<BranchColumn>('category');
  const [query, setQuery] = useState('');
  const index = rule ? session.stage?.loadedModels[0]?.index : undefined;
  const branches = useMemo(() => (index ? branchesBy(index, column, triangles) : []), [index, column, triangles]);
  const found = useMemo(() => (index && query.trim() ? searchElements(index, query) : []), [index, query]);
  if (!rule || !index) return <Text color="softInk">The model is arriving …</Text>;
  const chosen = selected ? index.guid.indexOf(selected.guid) : -1;
  return (
    <Box as="section" aria-label="What to reveal">
      {chosen >= 0 && selected ? (
        <Flex bg="felt" borderRadius="lg" px="3" py="1" mb="3" align="center" gap="2">
          <Text flex="1" truncate>
            {selected.name}
          </Text>
          <QuietButton size="sm" onClick={() => session.setElements([chosen], rows[chosen] !== null)}>
            {rows[chosen] === null ? 'Withhold it' : 'Reveal it'}
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
        <>
          <Flex align="center" gap="2" wrap="wrap" mb="2">
            <Text flex="1" role="status">
              {plainNumber(found.length)} found
            </Text>
            <QuietButton size="sm" disabled={found.length === 0} onClick={() => session.setElements(found, false)}>
              Withhold them
            </QuietButton>
            <QuietButton size="sm" disabled={found.length === 0} onClick={() => session.setElements(found, true)}>
              Reveal them
            </QuietButton>
          </Flex>
          <Box as="ul" listStyleType="none" aria-label="Found elements">
            <Elements key={query} session={session} index={index} rows={found} />
          </Box>
        </>
      ) : (
        <>
          <Flex role="group" aria-label="Ordered by" gap="1" mb="2" bg="felt" borderRadius="pill" p="1">
            {(Object.keys(COLUMN_NAMES) as BranchColumn[]).map((key) => (
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
                {COLUMN_NAMES[key]}
              </Button>
            ))}
          </Flex>
          <Box as="ul" listStyleType="none" aria-label="Contents">
            {branches.map((branch) => (
              <BranchRow
                key={`${column} ${branch.value}`}
                session={session}
                index={index}
                parent={[]}
                column={column}
                branch={branch}
              />
            ))}
          </Box>
        </>
      )}
    </Box>
  );
}
