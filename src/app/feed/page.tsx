import { Box, Heading } from '@chakra-ui/react';
import { redirect } from 'next/navigation';
import { feedPeople, readFeed } from '@/server/review/activities';
import { Feed } from '@/ui/feed/feed';
import { TopBar } from '@/ui/frame/top-bar';
import { accountOf, pageActor } from '../page-access';

/** What was done, over all projects that somebody is in. */
export default async function FeedPage() {
  const actor = await pageActor();
  if (actor.kind === 'guest') redirect(`/projects/${actor.projectId}/review`);
  const [activities, people] = await Promise.all([readFeed(actor, {}), feedPeople(actor, null)]);
  return (
    <>
      <TopBar home="/projects" account={accountOf(actor)} />
      <Box as="main" maxW="860px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
        <Heading as="h1" fontSize="3xl" mb="4">
          What was done
        </Heading>
        <Feed projectId={null} initial={activities} people={people} />
      </Box>
    </>
  );
}
