import { may } from '@/core/rights';
import { Box, Text } from '@chakra-ui/react';
import { authorise } from '@/server/access/access';
import { readTracker } from '@/server/exchange/tracker';
import { listWebhooks } from '@/server/exchange/webhooks';
import { readProject } from '@/server/projects/projects';
import { FollowUpHead } from '@/ui/follow-up/follow-up-head';
import { TopBar } from '@/ui/frame/top-bar';
import { Programs } from '@/ui/programs/programs';
import { accountOf, orNotFound, pageActor } from '../../../page-access';

export default async function ProgramsPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const actor = await pageActor();
  const role = await orNotFound(authorise(actor, id, 'minutes.read'));
  const project = await readProject(actor, id);
  const mayManage = may(role, 'exchange.manage');
  return (
    <>
      <TopBar home="/projects" project={project} station="follow-up" account={accountOf(actor)} />
      {mayManage ? (
        <Programs projectId={id} tracker={await readTracker(actor, id)} webhooks={await listWebhooks(actor, id)} />
      ) : (
        <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
          <FollowUpHead projectId={id} page="programs" title="Other programs" />
          <Text color="softInk">Whoever leads the project says which other programs know of it.</Text>
        </Box>
      )}
    </>
  );
}
