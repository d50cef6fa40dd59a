import { asRecord } from '../elements/read-element-set';
import { marks } from '../view/marks';
import { readChange, readView } from '../view/view-state';
import type { MeetingEvent } from './meeting';

/**
 * An event as it may have been stored by any earlier version. Once, every part of the view had an event of its own; each is
 * a change of that part now.
 */
export function readEvent(stored: unknown): MeetingEvent {
  const event = asRecord(stored);
  switch (event.type) {
    case 'view-changed':
      return { type: 'view-changed', change: readChange(event.change), viewpoint: idOf(event.viewpoint) };
    case 'view-settled':
    case 'visibility-set':
    case 'selection-set':
      return { type: 'view-changed', change: readChange(event), viewpoint: null };
    case 'viewpoint-applied':
      return { type: 'view-changed', change: readView(event.state), viewpoint: idOf(event.viewpoint) };
    case 'marked':
      return {
        type: 'marked',
        put: [...marks.read(event.put)],
        gone: Array.isArray(event.gone) ? event.gone.filter((id) => typeof id === 'string') : [],
      };
    default:
      return stored as MeetingEvent;
  }
}

function idOf(value: unknown): string | null {
  return typeof value === 'string' ? value : null;
}
