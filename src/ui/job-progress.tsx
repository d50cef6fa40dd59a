'use client';
import { Box, Text } from '@chakra-ui/react';
import type { JobSummary } from '@/core/jobs/job';
import { ProgressBar } from './progress-bar';
import { duration, phaseName } from './words';

/** How far a publication is that waits or runs, and what is still to come. */
export function JobProgress({ job }: { job: Pick<JobSummary, 'fileName' | 'phase' | 'state' | 'share' | 'seconds'> }) {
  const running = job.state === 'running';
  return (
    <Box role="status">
      <Text fontSize="sm" color="softInk">
        {phaseName(job.phase)}
        {running ? `, ${Math.round(job.share * 100)} %` : ''}
        {job.seconds === null
          ? ''
          : running
            ? `, about ${duration(job.seconds)} left`
            : `, begins in about ${duration(job.seconds)}`}
      </Text>
      <ProgressBar share={job.share} label={`Publication of ${job.fileName}`} />
    </Box>
  );
}
