'use client';
import { Box, Stack } from '@chakra-ui/react';
import { Trouble } from '../controls';
import { elementCount, surfaceRuleSentence } from '../words';
import { useReport } from './revision-report';

interface SurfaceChangesProps {
  revisionId: string;
  applied: number;
  idle: number;
}

/** What rules did to the colours and materials of a revision. */
export function SurfaceChanges({ revisionId, applied, idle }: SurfaceChangesProps) {
  const { report, trouble, load } = useReport(revisionId);
  return (
    <Box asChild>
      <details onToggle={load}>
        <summary>
          Colours and materials changed by {applied} {applied === 1 ? 'rule' : 'rules'}
          {idle > 0 ? `; ${idle} found nothing to change` : ''}
        </summary>
        <Trouble text={trouble} />
        <Stack as="ul" gap="1" mt="1" maxH="180px" overflowY="auto" tabIndex={0}>
          {report?.surfaces?.map(({ rule, elements }, i) => (
            <li key={i}>
              {surfaceRuleSentence(rule)} · {elements > 0 ? elementCount(elements) : 'nothing fits any more'}
            </li>
          ))}
        </Stack>
      </details>
    </Box>
  );
}
