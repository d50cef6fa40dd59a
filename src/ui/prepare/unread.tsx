'use client';
import { Box, Stack } from '@chakra-ui/react';
import { Trouble } from '../controls';
import { useReport } from './revision-report';

/** What could not be read of a file, element by element. */
export function Unread({ revisionId, count }: { revisionId: string; count: number }) {
  const { report, trouble, load } = useReport(revisionId);
  return (
    <Box asChild fontSize="sm" color="ochre">
      <details onToggle={load}>
        <summary>{count} not read</summary>
        <Trouble text={trouble} />
        <Stack as="ul" gap="1" mt="1" color="softInk" maxH="180px" overflowY="auto" tabIndex={0}>
          {report?.unread.map((warning, i) => (
            <li key={i}>
              {[warning.category, warning.name, warning.guid].filter(Boolean).join(' · ')}: {warning.reason}
            </li>
          ))}
        </Stack>
      </details>
    </Box>
  );
}
