/** A meeting that is going on. */
export interface RunningMeeting {
  id: string;
  title: string;
  startedAt: string;
  /** Six digits that let guests in; only for those who may lead. */
  code: string | null;
}

export interface MeetingSummary {
  id: string;
  title: string;
  startedAt: string;
  endedAt: string | null;
  /** Whether its minutes wait until somebody has read them. */
  waits: boolean;
}
