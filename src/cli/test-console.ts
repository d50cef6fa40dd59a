import { afterEach, beforeEach, vi } from 'vitest';

/** What a command prints and complains of, line by line, anew for each test of the file. */
export function listen(): { printed: string[]; complaints: string[] } {
  const heard = { printed: [] as string[], complaints: [] as string[] };
  beforeEach(() => {
    heard.printed = [];
    heard.complaints = [];
    vi.spyOn(console, 'log').mockImplementation((line: string) => void heard.printed.push(line));
    vi.spyOn(console, 'error').mockImplementation((line: string) => void heard.complaints.push(line));
  });
  afterEach(() => vi.restoreAllMocks());
  return heard;
}
