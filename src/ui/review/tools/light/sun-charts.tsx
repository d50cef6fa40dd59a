'use client';
import { Box } from '@chakra-ui/react';
import { scaleLinear, scaleUtc } from 'd3-scale';
import { area, curveMonotoneX } from 'd3-shape';
import { clock, DAY_MINUTES, dayText } from '@/core/sun/calendar';
import type { SunnyDay, SunState } from '@/core/sun/sun-hours';

const WIDTH = 264;
const BAR = 22;
const YEAR_HEIGHT = 84;
const LEFT = 22;

const FILLS: Record<SunState, string> = {
  sun: 'var(--chakra-colors-sun)',
  shade: 'var(--chakra-colors-seam)',
  behind: 'url(#sun-behind)',
  night: 'var(--chakra-colors-felt)',
};

/** A day from midnight to midnight: ochre where the sun shines on the place. */
export function DayBar({ day }: { day: SunnyDay }) {
  const x = scaleLinear([0, DAY_MINUTES], [0, WIDTH]);
  return (
    <Box mt="2">
      <svg
        width="100%"
        viewBox={`0 0 ${WIDTH} ${BAR + 14}`}
        role="img"
        aria-label={`Direct sun on ${dayText(day.date)}: ${
          day.spans
            .filter(({ state }) => state === 'sun')
            .map(({ from, to }) => `${clock(from)} to ${clock(to)}`)
            .join(', ') || 'none'
        }`}
      >
        <Hatch />
        {day.spans.map(({ from, to, state }) => (
          <rect key={from} x={x(from)} width={x(to) - x(from)} y="0" height={BAR} fill={FILLS[state]} />
        ))}
        <rect width={WIDTH} height={BAR} fill="none" stroke="var(--chakra-colors-seam)" />
        {[0, 6, 12, 18, 24].map((hour) => (
          <g key={hour} transform={`translate(${x(hour * 60)} 0)`}>
            <line y1={BAR} y2={BAR + 3} stroke="var(--chakra-colors-soft-ink)" />
            <text
              y={BAR + 12}
              style={{ fontSize: 9 }}
              fill="var(--chakra-colors-soft-ink)"
              textAnchor={hour === 0 ? 'start' : hour === 24 ? 'end' : 'middle'}
            >
              {hour}
            </text>
          </g>
        ))}
      </svg>
    </Box>
  );
}

/** Hours of sun over the year. */
export function YearChart({ days, year }: { days: readonly SunnyDay[]; year: number }) {
  const start = Date.UTC(year, 0, 1);
  const x = scaleUtc([start, Date.UTC(year, 11, 31)], [LEFT, WIDTH]);
  const most = Math.max(4, ...days.map(({ hours }) => hours));
  const y = scaleLinear([0, most], [YEAR_HEIGHT, 6]).nice();
  const at = ({ date }: SunnyDay) => x(Date.parse(`${date}T00:00:00Z`));
  const shape = area<SunnyDay>(at, y(0), ({ hours }) => y(hours)).curve(curveMonotoneX)([...days]);
  const months = Array.from({ length: 12 }, (_, month) => Date.UTC(year, month, 15));
  return (
    <Box mt="2">
      <svg
        width="100%"
        viewBox={`0 0 ${WIDTH} ${YEAR_HEIGHT + 14}`}
        role="img"
        aria-label={`Hours of direct sun over ${year}: ${monthly(days)}`}
      >
        {y.ticks(3).map((hours) => (
          <g key={hours} transform={`translate(0 ${y(hours)})`}>
            <line x1={LEFT} x2={WIDTH} stroke="var(--chakra-colors-seam)" />
            <text x={LEFT - 4} dy="3" style={{ fontSize: 9 }} textAnchor="end" fill="var(--chakra-colors-soft-ink)">
              {hours} h
            </text>
          </g>
        ))}
        <path d={shape ?? ''} fill="var(--chakra-colors-sun)" fillOpacity="0.75" stroke="var(--chakra-colors-sun)" />
        {months.map((month) => (
          <text
            key={month}
            x={x(month)}
            y={YEAR_HEIGHT + 12}
            style={{ fontSize: 9 }}
            textAnchor="middle"
            fill="var(--chakra-colors-soft-ink)"
          >
            {new Date(month).toLocaleDateString('en', { month: 'narrow', timeZone: 'UTC' })}
          </text>
        ))}
      </svg>
    </Box>
  );
}

function Hatch() {
  return (
    <pattern id="sun-behind" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="5" height="5" fill="var(--chakra-colors-felt)" />
      <line y2="5" stroke="var(--chakra-colors-soft-ink)" strokeWidth="1.2" />
    </pattern>
  );
}

/** The mean of each month, for those who do not see the chart. */
function monthly(days: readonly SunnyDay[]): string {
  return Array.from({ length: 12 }, (_, month) => {
    const own = days.filter(({ date }) => Number(date.slice(5, 7)) === month + 1);
    const mean = own.reduce((sum, { hours }) => sum + hours, 0) / Math.max(1, own.length);
    return `${new Date(Date.UTC(2026, month, 15)).toLocaleDateString('en', { month: 'long', timeZone: 'UTC' })} ${mean.toFixed(1)}`;
  }).join(', ');
}
