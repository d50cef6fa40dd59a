import type { LucideIcon } from 'lucide-react';
import type { ComponentType } from 'react';
import type { PointerTaker } from '@/stage/input/pointer-taker';
import type { ReviewRights } from '../review-state';
import type { ReviewSession } from '../session';

/** What is known of a tool before its code is there: one line in the registry. */
export interface ToolEntry {
  name: string;
  label: string;
  icon: LucideIcon;
  /** Takes it up, without a modifier. */
  key: string;
  /** What it is for and how, in one or two sentences. */
  help: string;
  /** Which right it needs. */
  right: keyof ReviewRights | null;
  /** Whether the next press on the model picks a point. */
  picks: boolean;
  load(): Promise<Tool>;
}

/** A tool's own code: the folder's `tool.ts` exports one. */
export interface Tool {
  /** What pointers and keys on the model mean while it is in hand; what it does not take goes to selecting and the camera. */
  taker?: (session: ReviewSession) => PointerTaker;
  /** Stands beside the column while it is in hand. */
  Tray?: ComponentType;
}
