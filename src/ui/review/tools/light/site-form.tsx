'use client';
import { Flex } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import type { SunSite } from '@/core/sun/sun-site';
import { useReview, useSession } from '../../session-context';
import { NumberField } from '../number-field';
import { SmallSelect } from '../../../small-select';
import { TrayAct } from '../tray';

/** The map of the time zones, 73 kB, is needed in this form only. */
const loadZones = () => import('@/core/sun/time-zone-at');

/** Radians counter-clockwise as degrees clockwise, as a compass counts. */
const bearing = (north: number) => ((-north * 180) / Math.PI + 720) % 360;

/** Sets where the project stands, where north is and which time holds. */
export function SiteForm({ onDone }: { onDone: () => void }) {
  const session = useSession();
  const { site: known, by } = useReview((state) => state.site);
  const [site, setSite] = useState<SunSite>(
    known ?? {
      latitude: 50,
      longitude: 10,
      north: 0,
      timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    },
  );
  const change = (part: Partial<SunSite>) => setSite((now) => ({ ...now, ...part }));
  // Elsewhere another time holds; it can still be chosen otherwise.
  const move = (part: Partial<SunSite>) => {
    change(part);
    session.act(async () => {
      const { timeZoneAt } = await loadZones();
      setSite((now) => ({ ...now, timeZone: timeZoneAt(now) ?? now.timeZone }));
    });
  };
  // Loaded ahead, so that Save right after the last figure has the zone already.
  useEffect(() => session.act(async () => void (await loadZones())), [session]);
  const save = (chosen: SunSite | null) => session.act(async () => (await session.setSite(chosen), onDone()));
  return (
    <Flex gap="2" wrap="wrap" mt="2" align="end">
      <NumberField
        label="Latitude"
        unit="°"
        digits={4}
        value={site.latitude}
        onCommit={(latitude) => move({ latitude })}
      />
      <NumberField
        label="Longitude"
        unit="°"
        digits={4}
        value={site.longitude}
        onCommit={(longitude) => move({ longitude })}
      />
      <NumberField
        label="North at"
        unit="°"
        digits={1}
        value={bearing(site.north)}
        onCommit={(degrees) => change({ north: (-degrees * Math.PI) / 180 })}
      />
      <Flex flex="1 1 100%">
        <SmallSelect
          label="Time zone"
          value={site.timeZone}
          options={Intl.supportedValuesOf('timeZone').map((zone) => [zone, zone.replaceAll('_', ' ')] as const)}
          onChange={(timeZone) => change({ timeZone })}
        />
      </Flex>
      <TrayAct onClick={() => save(site)}>Save</TrayAct>
      {by === 'hand' ? <TrayAct onClick={() => save(null)}>As the models say</TrayAct> : null}
    </Flex>
  );
}
