'use client';
import { Box, Flex, Grid, Heading, Stack, Text } from '@chakra-ui/react';
import { format } from 'date-fns';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { Comment } from '@/core/project/comment';
import { monthAfter, monthDays } from '@/core/project/sort-comments';
import { IconButton } from '../controls';
import { CommentChip } from './comment-row';

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

interface CalendarProps {
  comments: readonly Comment[];
  today: string;
  onOpen: (id: string) => void;
}

/** What is due, on the days of a month. */
export function CommentCalendar({ comments, today, onOpen }: CalendarProps) {
  const [month, setMonth] = useState(today.slice(0, 7));
  const byDay = useMemo(() => {
    const days = new Map<string, Comment[]>();
    for (const comment of comments)
      if (comment.dueOn) days.set(comment.dueOn, [...(days.get(comment.dueOn) ?? []), comment]);
    return days;
  }, [comments]);
  const without = comments.filter(({ dueOn }) => dueOn === null).length;
  return (
    <Box>
      <Flex align="center" gap="2" mb="3">
        <IconButton label="The month before" onClick={() => setMonth(monthAfter(month, -1))}>
          <ChevronLeft size={20} aria-hidden />
        </IconButton>
        <Heading as="h2" fontSize="lg" minW="160px" textAlign="center" aria-live="polite">
          {format(new Date(`${month}-15T12:00:00`), 'MMMM yyyy')}
        </Heading>
        <IconButton label="The month after" onClick={() => setMonth(monthAfter(month, 1))}>
          <ChevronRight size={20} aria-hidden />
        </IconButton>
        <Text color="softInk" fontSize="sm" ml="auto">
          {without > 0 ? `${without} without a day` : ''}
        </Text>
      </Flex>
      <Box overflowX="auto">
        <Grid templateColumns="repeat(7, minmax(120px, 1fr))" gap="1" mb="1" aria-hidden>
          {WEEKDAYS.map((day) => (
            <Text key={day} fontSize="sm" color="softInk" fontWeight="bold" px="2">
              {day}
            </Text>
          ))}
        </Grid>
        <Grid templateColumns="repeat(7, minmax(120px, 1fr))" gap="1" role="list" aria-label="Days">
          {monthDays(month).map((day) => (
            <Box
              key={day}
              role="listitem"
              aria-label={format(new Date(`${day}T12:00:00`), 'd MMMM')}
              minH="96px"
              p="1.5"
              borderRadius="10px"
              borderWidth="1px"
              borderColor={day === today ? 'madder' : 'seam'}
              bg={day.startsWith(month) ? 'felt' : 'transparent'}
            >
              <Text
                fontSize="sm"
                color={day === today ? 'madder' : 'softInk'}
                fontWeight={day === today ? 'bold' : 'normal'}
              >
                {Number(day.slice(8))}
              </Text>
              <Stack gap="1">
                {byDay.get(day)?.map((comment) => (
                  <CommentChip key={comment.id} comment={comment} today={today} onOpen={() => onOpen(comment.id)} />
                ))}
              </Stack>
            </Box>
          ))}
        </Grid>
      </Box>
    </Box>
  );
}
