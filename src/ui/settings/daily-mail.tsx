'use client';
import { Heading, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { api, messageOf } from '../api';
import { Card, Trouble } from '../controls';
import { Tick } from '../tick';

/** Whether somebody gets a mail a day about what others did. */
export function DailyMail({ initial }: { initial: boolean }) {
  const [isWanted, setWanted] = useState(initial);
  const [trouble, setTrouble] = useState<string | null>(null);
  const set = (wanted: boolean) => {
    setWanted(wanted);
    api.put('/api/daily-mail', { wanted }).then(
      () => setTrouble(null),
      (error: unknown) => {
        setWanted(!wanted);
        setTrouble(messageOf(error));
      },
    );
  };
  return (
    <Card as="section" p="5" aria-label="Mail">
      <Heading as="h2" fontSize="lg">
        Mail
      </Heading>
      <Text color="softInk" fontSize="sm" mb="2">
        What is yours to do, minutes and approvals are mailed in any case.
      </Text>
      <Tick checked={isWanted} onTick={set}>
        A mail each morning about what others did in my projects
      </Tick>
      <Trouble text={trouble} />
    </Card>
  );
}
