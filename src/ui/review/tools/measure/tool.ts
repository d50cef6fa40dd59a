import type { ReviewSession } from '../../session';
import type { Tool } from '../tool';
import { aimingTaker } from './aiming';
import { MeasureTray } from './measure-tray';
import { measuringOf } from './measuring';
import { stagePointable } from './pointable';

export const Tray = MeasureTray;

export const taker: Tool['taker'] = (session: ReviewSession) =>
  session.stage ? aimingTaker(measuringOf(session), stagePointable(session.stage), (work) => session.act(work)) : {};
