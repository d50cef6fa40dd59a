'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { clock, dayText } from '@/core/sun/calendar';
import { localTimeAt } from '@/core/sun/local-time';
import { sunnyDay, sunnyYear, yearOf, type SunnyDay } from '@/core/sun/sun-hours';
import type { SunSite } from '@/core/sun/sun-site';
import { IconButton } from '../../../controls';
import { saveFile } from '../../../save-file';
import { useReview, useSession } from '../../session-context';
import { TrayAct } from '../tray';
import { DayBar, YearChart } from './sun-charts';
import { shadeAt } from './sun-hours';

/** Hours of direct sun at a picked place: the day as a bar, the year as a chart, and what casts the shade. */
export function SunHere({ site }: { site: SunSite }) {
  const session = useSession();
  const picking = useReview((state) => state.picking);
  const place = useReview((state) => state.sunPlace);
  const at = useReview((state) => state.view.light.at);
  const visibility = useReview((state) => state.view.visibility);
  const options = useReview((state) => state.view.options);
  const date = at?.date ?? localTimeAt(new Date(), site.timeZone).date;
  const [day, setDay] = useState<SunnyDay | null>(null);
  const [year, setYear] = useState<SunnyDay[]>([]);
  const wanted = yearOf(date);

  useEffect(() => {
    const { stage } = session;
    if (!place || !stage) return;
    let isWanted = true;
    const shade = shadeAt(stage, place.point, place.normal);
    session.act(async () => {
      const found = await sunnyDay(site, date, place.normal, shade);
      if (isWanted) setDay(found);
    });
    return () => {
      isWanted = false;
    };
  }, [session, site, place, date, visibility, options]);

  useEffect(() => {
    const { stage } = session;
    if (!place || !stage) return;
    let isWanted = true;
    const days: SunnyDay[] = [];
    const shade = shadeAt(stage, place.point, place.normal);
    session.act(() =>
      sunnyYear(site, wanted, place.normal, shade, (one) => {
        days.push(one);
        if (isWanted && (days.length % 6 === 0 || days.length > 70)) setYear([...days]);
        return isWanted;
      }),
    );
    return () => {
      isWanted = false;
    };
  }, [session, site, place, wanted, visibility, options]);

  const close = () => {
    session.store.setState({ sunPlace: null });
    setDay(null);
    setYear([]);
  };
  return (
    <Box mt="3" pt="3" borderTopWidth="1px" borderColor="seam">
      <Flex align="center" gap="2">
        <TrayAct
          pressed={picking === 'sun'}
          onClick={() => session.store.setState({ picking: picking === 'sun' ? null : 'sun' })}
        >
          Sun here
        </TrayAct>
        {place ? (
          <IconButton label="Close the hours of sun" ml="auto" onClick={close}>
            <X size={16} aria-hidden />
          </IconButton>
        ) : null}
      </Flex>
      {picking === 'sun' ? (
        <Text fontSize="sm" color="softInk" mt="1">
          Tap the place whose hours of sun you want to know.
        </Text>
      ) : null}
      {place && day ? (
        <Box mt="2" role="group" aria-label="Hours of direct sun">
          <Text fontWeight="bold" role="status">
            {hoursText(day.hours)} of direct sun on {dayText(day.date)}
          </Text>
          <DayBar day={day} />
          <Shades day={day} />
          <YearChart days={year} year={wanted} />
          <Flex gap="2" mt="2">
            <TrayAct disabled={year.length < 73} onClick={() => session.act(() => saveHours(day, year))}>
              Save as CSV
            </TrayAct>
          </Flex>
          <Text fontSize="xs" color="softInk" mt="1">
            By the model as it shows: glass lets the sun through, and so does what is hidden or cut away.
          </Text>
        </Box>
      ) : place ? (
        <Text fontSize="sm" color="softInk" mt="2">
          Looking for the sun …
        </Text>
      ) : null}
    </Box>
  );
}

/** What casts the shade, each thing with its times. */
function Shades({ day }: { day: SunnyDay }) {
  const times = new Map<string, string[]>();
  for (const { state, by, from, to } of day.spans) {
    const key =
      state === 'shade' ? `In the shade of: ${by}` : state === 'behind' ? 'The sun is behind this face' : null;
    if (key) times.set(key, [...(times.get(key) ?? []), `${clock(from)} to ${clock(to)}`]);
  }
  if (times.size === 0) return null;
  return (
    <Box as="ul" listStyleType="none" fontSize="sm" mt="1">
      {[...times].map(([what, when]) => (
        <li key={what}>
          {what}
          <Text as="span" color="softInk" fontVariantNumeric="tabular-nums">
            {' '}
            {when.join(', ')}
          </Text>
        </li>
      ))}
    </Box>
  );
}

function hoursText(hours: number): string {
  const minutes = Math.round(hours * 60);
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

async function saveHours(day: SunnyDay, year: readonly SunnyDay[]): Promise<void> {
  const { csvOf } = await import('@/core/exchange/csv');
  const spans = day.spans.map(({ from, to, state, by }) => [day.date, clock(from), clock(to), state, by ?? '', null]);
  const days = year.map(({ date, hours }) => [date, null, null, 'sum', null, Number(hours.toFixed(2))]);
  const text = csvOf([['day', 'from', 'to', 'state', 'by', 'hours'], ...spans, ...days]);
  saveFile(new Blob([text], { type: 'text/csv' }), 'hours-of-sun.csv');
}
