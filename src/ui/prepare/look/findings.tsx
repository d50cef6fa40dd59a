'use client';
import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { ChevronLeft, ChevronRight, Info, TriangleAlert } from 'lucide-react';
import { useStore } from 'zustand';
import { elementLabel } from '@/core/elements/element-index';
import { FINDINGS, type Finding, type Mend } from '@/core/examination/finding';
import type { ProjectFit } from '@/core/examination/project-fit';
import { plainNumber } from '@/core/plain-number';
import { IconButton, QuietButton } from '../../controls';
import { Toggle } from '../../toggle';
import { findingTitle, fitSentence } from '../../words';
import type { LookSession, Marked } from './look-session';

const MENDS: Record<Mend, string> = {
  'leave-out': 'Leave out',
  turn: 'Turn round',
  lift: 'Lift by some millimetres',
  solid: 'Show solid',
  reduce: 'Make simpler',
};

/** What was noticed in the file, each with its place and, where it can be mended, a switch. */
export function Findings({ session, fit }: { session: LookSession; fit: ProjectFit | null }) {
  const { findings, rule } = useStore(session.store);
  if (!rule) return null;
  return (
    <Box as="section" aria-label="What was noticed">
      <Heading as="h2" fontSize="md" mb="2">
        What was noticed
      </Heading>
      {fit ? (
        <Text fontWeight="bold" color="ochre" py="2">
          {fitSentence(fit)}
        </Text>
      ) : null}
      {findings.length === 0 && !fit ? (
        <Text fontSize="sm" color="softInk">
          Nothing that needs you.
        </Text>
      ) : (
        <Box as="ul" listStyleType="none">
          {findings.map((finding) => (
            <FindingLine key={finding.kind} finding={finding} session={session} />
          ))}
        </Box>
      )}
    </Box>
  );
}

function FindingLine({ finding, session }: { finding: Finding; session: LookSession }) {
  const agreed = useStore(session.store, (state) => state.mend.includes(finding.kind));
  const marked = useStore(session.store, (state) => (state.marked?.finding === finding.kind ? state.marked : null));
  const { mend, severity } = FINDINGS[finding.kind];
  const title = findingTitle(finding.kind, finding.count);
  return (
    <Box as="li" py="2" borderTopWidth="1px" borderColor="seam">
      <Flex gap="2" align="center" color={severity === 'warning' ? 'ochre' : 'ink'}>
        {severity === 'warning' ? (
          <TriangleAlert size={18} aria-label="Asks for attention:" style={{ flexShrink: 0 }} />
        ) : (
          <Info size={18} aria-label="Good to know:" style={{ flexShrink: 0 }} />
        )}
        <Text flex="1" fontWeight="bold">
          {title}
        </Text>
        <QuietButton
          size="sm"
          aria-label={`Show: ${title}`}
          aria-pressed={marked !== null}
          onClick={() => session.showFinding(finding)}
        >
          Show
        </QuietButton>
      </Flex>
      <Text fontSize="sm" color="softInk">
        {finding.detail}
      </Text>
      {marked && marked.guids.length > 1 ? <OneByOne session={session} marked={marked} /> : null}
      {mend === 'turn' && marked ? (
        <Text fontSize="sm">
          {agreed ? 'As it will be: no face is seen from behind.' : 'Ochre in the picture: faces seen from behind.'}
        </Text>
      ) : null}
      {mend ? (
        <Toggle checked={agreed} onToggle={(checked) => session.setMend(finding.kind, checked)} mt="2">
          {MENDS[mend]}
          <Text as="span" srOnly>
            : {title}
          </Text>
        </Toggle>
      ) : null}
    </Box>
  );
}

/** Goes through the elements that are marked. */
function OneByOne({ session, marked: { guids, at } }: { session: LookSession; marked: Marked }) {
  const model = session.stage?.loadedModels[0];
  const row = at === null ? undefined : model?.rowOf.get(guids[at]!);
  const name = row === undefined ? '' : elementLabel(model!.index, row);
  return (
    <Flex align="center" gap="1" my="1">
      <IconButton label="The one before" onClick={() => session.step(-1)} ms="-3">
        <ChevronLeft size={20} aria-hidden />
      </IconButton>
      <Text role="status" flex="1" minW="0" truncate fontSize="sm" title={name}>
        {at === null
          ? `All ${plainNumber(guids.length)}`
          : `${plainNumber(at + 1)} of ${plainNumber(guids.length)}: ${name}`}
      </Text>
      <IconButton label="The next one" onClick={() => session.step(1)}>
        <ChevronRight size={20} aria-hidden />
      </IconButton>
    </Flex>
  );
}
