import {
  differences,
  pick,
  UNDONE_PARTS,
  type ViewChange,
  type ViewPartName,
  type ViewState,
} from '@/core/view/view-state';

const MOST_STEPS = 50;

/** What brings a step back. */
export interface ViewStep {
  change: ViewChange;
  /** Whether the step was that this person drew: it concerns no marks but their own. */
  isDrawn: boolean;
}

/** The steps of one person's view that can be taken back and taken again: all parts but the camera and the selection. */
export class ViewHistory {
  private past: ViewStep[] = [];
  private future: ViewStep[] = [];

  /** Remembers what a change replaces. One that changes nothing that can be undone is no step. */
  remember(before: ViewState, change: ViewChange, isDrawn = false): void {
    const names = Object.keys(differences(before, change)) as ViewPartName[];
    const undone = UNDONE_PARTS.filter((name) => names.includes(name));
    if (undone.length === 0) return;
    this.past = [...this.past.slice(1 - MOST_STEPS), { change: pick(before, undone), isDrawn }];
    this.future = [];
  }

  /** What to change to take the last step back; null if there is none. */
  undo(now: ViewState): ViewStep | null {
    return this.exchange(this.past, this.future, now);
  }

  redo(now: ViewState): ViewStep | null {
    return this.exchange(this.future, this.past, now);
  }

  /** Forgets everything: what shows now is not of this person's making. */
  clear(): void {
    this.past = [];
    this.future = [];
  }

  get undoable(): number {
    return this.past.length;
  }

  get redoable(): number {
    return this.future.length;
  }

  private exchange(from: ViewStep[], to: ViewStep[], now: ViewState): ViewStep | null {
    const step = from.pop();
    if (!step) return null;
    to.push({ ...step, change: pick(now, Object.keys(step.change) as ViewPartName[]) });
    return step;
  }
}
