import { Box } from '@chakra-ui/react';
import { authorise } from '@/server/access/access';
import { readProject } from '@/server/projects/projects';
import { feedPeople, readFeed } from '@/server/review/activities';
import { Feed } from '@/ui/feed/feed';
import { FollowUpHead } from '@/ui/follow-up/follow-up-head';
import { TopBar } from '@/ui/frame/top-bar';
import { accountOf, orNotFound, pageActor } from '../../../page-access';

export default async function ProjectFeedPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const actor = await pageActor();
  await orNotFound(authorise(actor, id, 'minutes.read'));
  const [project, activities, people] = await orNotFound(
    Promise.all([readProject(actor, id), readFeed(actor, { projectId: id }), feedPeople(actor, id)]),
  );
  return (
    <>
      <TopBar home="/projects" project={project} station="follow-up" account={accountOf(actor)} />
      <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
        <FollowUpHead projectId={id} page="feed" title="What was done" />
        <Box maxW="860px">
          <Feed projectId={id} initial={activities} people={people} />
        </Box>
      </Box>
    </>
  );
}
