'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { v4 as uuidv4 } from 'uuid';
import { Card, PrimaryButton, QuietButton } from '../../../controls';
import { COMMENT_KINDS, type Assignee, type CommentChange } from '@/core/project/comment';
import { DetailsFields, type Details } from '../../../comments/details-fields';
import { ChosenFiles, pastedFiles, withFiles } from '../../../comments/chosen-files';
import { NamingField } from '../../../comments/naming-field';
import { useAssignees, type Person } from '../../../comments/use-assignees';
import type { SaidDetails } from '../../records/records';
import { useReview, useSession } from '../../session-context';
import { useNames } from '../../use-names';

const FIRST: Details = { kind: 'remark', assignee: null, dueOn: null, priority: 'normal' };
const GUEST_KINDS = ['remark', 'question'] as const;

export function SayTray() {
  const draft = useReview((state) => state.draft);
  if (draft) return <Writing key={draft.element.guid} name={draft.name} />;
  return (
    <Card px="4" py="3" role="status">
      <Text fontSize="sm">Point at what you mean.</Text>
    </Card>
  );
}

function Writing({ name }: { name: string }) {
  const session = useSession();
  const [key] = useState(() => uuidv4());
  const [text, setText] = useState('');
  const [busy, setBusy] = useState(false);
  const { assign, stations } = session.start.rights;
  const people = useAssignees(session.start.project.id, assign);
  const [details, setDetails] = useState<Details>(FIRST);
  const [wanted, setWanted] = useState<SaidDetails>({});
  const [files, setFiles] = useState<File[]>([]);
  const known = useNames();
  const names = [...new Set([...people.map((person) => person.name), ...known])];
  const send = async () => {
    if (!text.trim()) return;
    setBusy(true);
    const left = [...files];
    if (await session.say(text.trim(), key, wanted, left)) return;
    setFiles(left);
    setBusy(false);
  };
  const note = async () => {
    setBusy(true);
    if (!(await session.takeNote(text.trim(), key))) setBusy(false);
  };
  return (
    <Card p="4" w="352px" role="group" aria-label="Say something">
      <Text fontSize="sm" color="softInk" mb="2">
        About <b>{name}</b>
      </Text>
      <NamingField
        aria-label="Your comment"
        autoFocus
        value={text}
        names={names}
        rows={3}
        bg="wool"
        onChange={setText}
        onPaste={(event) => setFiles(withFiles(files, pastedFiles(event)))}
        onKeyDown={(event) =>
          event.key === 'Escape'
            ? session.setTool('move')
            : event.key === 'Enter' && (event.ctrlKey || event.metaKey)
              ? void send()
              : undefined
        }
      />
      <Box mt="2">
        <DetailsFields
          value={details}
          people={people}
          kinds={assign ? COMMENT_KINDS : GUEST_KINDS}
          mayAssign={assign && details.kind === 'action'}
          onChange={(change) => {
            setWanted({ ...wanted, ...change });
            setDetails({ ...details, ...change, assignee: assigneeShown(change.assignee, details, people) });
          }}
        />
      </Box>
      <Box mt="1">
        <ChosenFiles files={files} onChange={setFiles} />
      </Box>
      <Flex gap="2" mt="3" justify="end">
        {stations ? (
          <QuietButton
            title="Nobody else sees it until you pass it on"
            disabled={!text.trim() || busy}
            onClick={() => void note()}
          >
            Note for me
          </QuietButton>
        ) : null}
        <QuietButton onClick={() => session.setTool('move')}>Cancel</QuietButton>
        <PrimaryButton bg="indigo" onClick={send} loading={busy} disabled={!text.trim()}>
          Say
        </PrimaryButton>
      </Flex>
      <Box fontSize="xs" color="softInk" mt="2">
        The place and this view go with it.
      </Box>
    </Card>
  );
}

/** Who stands in the choice, before anything is stored. */
function assigneeShown(
  wanted: CommentChange['assignee'],
  { assignee }: Details,
  people: readonly Person[],
): Assignee | null {
  if (wanted === undefined) return assignee;
  if (wanted === null) return null;
  if ('email' in wanted) return { id: null, name: wanted.email, email: wanted.email };
  return { id: wanted.id, name: people.find(({ id }) => id === wanted.id)?.name ?? '', email: null };
}
