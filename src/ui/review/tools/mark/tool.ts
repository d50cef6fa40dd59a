import type { Tool } from '../tool';
import { MarkTray } from './mark-tray';

export const Tray = MarkTray;

export const taker: Tool['taker'] = (session) => session.marking.taker();
