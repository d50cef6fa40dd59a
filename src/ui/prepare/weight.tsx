'use client';
import { Box, Table, Text } from '@chakra-ui/react';
import type { DeviceForecast, Forecast } from '@/core/detail/forecast';
import { FINEST_PIXEL_ERROR } from '@/core/detail/device';
import type { PublishReport } from '@/core/project/publish-report';
import { plainNumber } from '@/core/plain-number';
import { Trouble } from '../controls';
import { kilobytes } from '../words';
import { useReport } from './revision-report';
import { WeightSteps } from './weight-steps';

const DEVICE_NAMES: Record<DeviceForecast['device'], string> = {
  phone: 'phone',
  laptop: 'laptop',
  headset: 'stand-alone headset',
};

/** What was made lighter, and what devices will have to carry. @param heavyOn devices for which it is too heavy */
export function Weight({ revisionId, heavyOn }: { revisionId: string; heavyOn: DeviceForecast['device'][] }) {
  const { report, trouble, load } = useReport(revisionId);
  return (
    <Box asChild fontSize="sm" color={heavyOn.length > 0 ? 'ochre' : 'softInk'}>
      <details onToggle={load}>
        <summary>
          {heavyOn.length > 0
            ? `Too heavy for ${heavyOn.map((device) => DEVICE_NAMES[device]).join(' and ')}`
            : 'Light enough for phone, laptop and headset'}
        </summary>
        <Trouble text={trouble} />
        {report?.forecast ? <Forecasts report={report} forecast={report.forecast} /> : null}
      </details>
    </Box>
  );
}

function Forecasts({ report, forecast }: { report: PublishReport; forecast: Forecast }) {
  const { weight, counts } = report;
  return (
    <>
      <WeightSteps report={report} />
      <Text mt="3" color="softInk">
        Sent in {counts.levels} {counts.levels === 1 ? 'level' : 'levels'} of detail
        {weight.pictures > 0 ? `, with ${kilobytes(weight.pictures)} of pictures` : ''}; the whole shows after{' '}
        {kilobytes(forecast.firstLook)}. The heaviest of {forecast.views} views, from around the whole and from eye
        height on every storey:
      </Text>
      <Table.Root size="sm" mt="1" aria-label="What devices will have to carry">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader ps="0">On a</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Triangles</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Draw calls</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Memory</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Sent</Table.ColumnHeader>
            <Table.ColumnHeader>Detail</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {forecast.devices.map((device) => (
            <Table.Row key={device.device} bg="transparent" color={device.fits ? 'softInk' : 'ochre'}>
              <Table.Cell ps="0">{device.device}</Table.Cell>
              <Table.Cell textAlign="end">{plainNumber(device.triangles)}</Table.Cell>
              <Table.Cell textAlign="end">{plainNumber(device.drawCalls)}</Table.Cell>
              <Table.Cell textAlign="end">{kilobytes(device.memory)}</Table.Cell>
              <Table.Cell textAlign="end">{kilobytes(device.bytes)}</Table.Cell>
              <Table.Cell>{detailOf(device)}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </>
  );
}

function detailOf({ fits, pixelError }: DeviceForecast): string {
  if (!fits) return 'too heavy at any';
  return pixelError <= FINEST_PIXEL_ERROR ? 'full' : `coarser, off by ${Math.round(pixelError)} pixels at most`;
}
