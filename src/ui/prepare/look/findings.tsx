'use client';
import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { useStore } from 'zustand';
import { FINDINGS, type Finding } from '@/core/examination/finding';
import type { ProjectFit } from '@/core/examination/project-fit';
import { QuietButton, Toggle } from '../../pieces';
import { findingTitle, fitSentence } from '../../words';
import type { LookSession } from './look-session';

const MENDS = { 'leave-out': 'Leave out', turn: 'Turn round', lift: 'Lift by some millimetres', solid: 'Show solid' };

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
  const marked = useStore(session.store, (state) => state.marked === finding.kind);
  const { mend, severity } = FINDINGS[finding.kind];
  const title = findingTitle(finding.kind, finding.count);
  return (
    <Box as="li" py="2" borderTopWidth="1px" borderColor="seam">
      <Flex gap="2" align="center">
        <Text flex="1" fontWeight="bold" color={severity === 'warning' ? 'ochre' : 'ink'}>
          {title}
        </Text>
        <QuietButton
          size="sm"
          aria-label={`Show: ${title}`}
          aria-pressed={marked}
          onClick={() => session.showFinding(finding)}
        >
          Show
        </QuietButton>
      </Flex>
      <Text fontSize="sm" color="softInk">
        {finding.detail}
      </Text>
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
