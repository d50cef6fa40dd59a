import { Box, Table } from '@chakra-ui/react';
import type { PublishReport } from '@/core/project/publish-report';
import { plainNumber } from '@/core/plain-number';
import { kilobytes } from '../words';

/** What is left of a model's surfaces after each step towards what is sent, and what the step saved. */
export function WeightSteps({ report: { weight, quantisationError, mended } }: { report: PublishReport }) {
  const { plain, mergedTriangles = 0, steps, tiles, tilesBrotli } = weight;
  const tidied = [
    mergedTriangles > 0
      ? `${plainNumber(mergedTriangles)} facets of flat faces merged, corners shared`
      : 'Corners shared',
    ...(mended.some(({ reduced }) => reduced) ? ['what was too fine made simpler'] : []),
  ];
  const millimetres = Math.max(0.1, Math.round(quantisationError * 1e4) / 10);
  const left: [string, number][] = [
    ['As the file describes them', plain],
    ...(steps
      ? ([
          [tidied.join(', '), steps.tidied],
          ['Shapes that repeat kept once', steps.once],
          [`Rounded, by ${millimetres} mm at most`, steps.rounded],
        ] satisfies [string, number][])
      : []),
    ['Packed', tiles],
    ['Packed again for sending', tilesBrotli],
  ];
  return (
    <Table.Root size="sm" mt="2" aria-label="What made the surfaces lighter">
      <Table.Header>
        <Table.Row bg="transparent">
          <Table.ColumnHeader ps="0">Surfaces</Table.ColumnHeader>
          <Table.ColumnHeader w="76px">
            <Box as="span" srOnly>
              Share of the beginning
            </Box>
          </Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">Left</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" pe="0">
            Saved
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {left.map(([step, bytes], i) => (
          <Table.Row key={step} bg="transparent" color="softInk">
            <Table.Cell ps="0">{step}</Table.Cell>
            <Table.Cell aria-label={`${Math.round((100 * bytes) / plain)} %`}>
              <Box h="6px" borderRadius="pill" bg="softInk" minW="2px" w={`${Math.min(100, (100 * bytes) / plain)}%`} />
            </Table.Cell>
            <Table.Cell textAlign="end" whiteSpace="nowrap">
              {kilobytes(bytes)}
            </Table.Cell>
            <Table.Cell textAlign="end" pe="0" whiteSpace="nowrap">
              {i === 0 ? '' : savedSince(left[i - 1]![1], bytes)}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

function savedSince(before: number, after: number): string {
  const share = Math.round(100 * (1 - after / before));
  return share > 0 ? `${share} %` : '–';
}
