import type { SettledEvent } from './meeting';

/** Somebody who was in a meeting, and from when to when. */
export interface Attendance {
  id: string;
  name: string;
  guest: boolean;
  host: boolean;
  /** ISO instants; the last one that is still there ends with the meeting, or not yet. */
  stays: { from: string; to: string | null }[];
}

/** Who was there from when to when, in the order in which they came. */
export function attendance(events: readonly SettledEvent[]): Attendance[] {
  const all = new Map<string, Attendance>();
  for (const { at, event } of events) {
    if (event.type === 'joined') {
      const { id, name, guest, host } = event.participant;
      const known = all.get(id) ?? { id, name, guest, host, stays: [] };
      all.set(id, { ...known, name });
      // Who comes back by another window was never away.
      if (known.stays.at(-1)?.to !== null) known.stays.push({ from: at, to: null });
    } else if (event.type === 'left') leave(all.get(event.participant), at);
    else if (event.type === 'ended') for (const one of all.values()) leave(one, at);
  }
  return [...all.values()];
}

function leave(one: Attendance | undefined, at: string): void {
  const last = one?.stays.at(-1);
  if (last?.to === null) last.to = at;
}

/** When viewpoints were opened, in order; one that is shown several times stands where it was shown first. */
export function viewpointsShown(events: readonly SettledEvent[]): { viewpoint: string; at: string; seq: number }[] {
  const shown = new Map<string, { viewpoint: string; at: string; seq: number }>();
  for (const { seq, at, event } of events)
    if (event.type === 'view-changed' && event.viewpoint !== null && !shown.has(event.viewpoint))
      shown.set(event.viewpoint, { viewpoint: event.viewpoint, at, seq });
  return [...shown.values()];
}

/** The number of the event by which each comment was said. */
export function momentsOfComments(events: readonly SettledEvent[]): Map<string, number> {
  return new Map(
    events.flatMap(({ seq, event }) => (event.type === 'commented' ? [[event.comment, seq] as const] : [])),
  );
}
