'use client';
import { Dialog, Flex, Portal, Stack, Text, Textarea } from '@chakra-ui/react';
import { useState } from 'react';
import { MOST_MINUTES, type ViewpointCard as Viewpoint } from '@/core/project/viewpoint-card';
import { PART_NAMES, type ViewPartName } from '@/core/view/view-state';
import { Field, PrimaryButton, QuietButton } from '../../controls';
import { Tick } from '../../tick';
import { useReview, useSession } from '../session-context';

const PART_WORDS: Record<ViewPartName, string> = {
  camera: 'Where one looks from',
  visibility: 'What shows',
  options: 'Design options',
  fades: 'What is faded',
  colouring: 'Colours',
  spread: 'What is pulled apart',
  cuts: 'Cuts',
  measures: 'Measures',
  marks: 'What is drawn',
  light: 'Light',
  style: 'Style',
  selection: 'What is selected',
};

/** The name, the question to decide, the time it is given, the group, and the parts that it brings back. */
export function ViewpointDetails({ viewpoint, onClose }: { viewpoint: Viewpoint; onClose: () => void }) {
  const session = useSession();
  const viewpoints = useReview((state) => state.viewpoints);
  const groups = [...new Set(viewpoints.map(({ group }) => group).filter(Boolean))];
  const [name, setName] = useState(viewpoint.name);
  const [question, setQuestion] = useState(viewpoint.question);
  const [minutes, setMinutes] = useState(viewpoint.minutes === null ? '' : String(viewpoint.minutes));
  const [group, setGroup] = useState(viewpoint.group);
  const [parts, setParts] = useState<readonly ViewPartName[]>(viewpoint.parts ?? PART_NAMES);
  const time = minutes.trim() === '' ? null : Number(minutes);
  const isTime = time === null || (Number.isInteger(time) && time >= 1 && time <= MOST_MINUTES);
  const save = () => {
    void session.records.changeViewpoint(viewpoint.id, {
      name: name.trim(),
      question: question.trim(),
      minutes: time,
      group: group.trim(),
      parts: parts.length === PART_NAMES.length ? null : PART_NAMES.filter((name) => parts.includes(name)),
    });
    onClose();
  };
  return (
    <Dialog.Root open onOpenChange={({ open }) => !open && onClose()} scrollBehavior="inside">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card" borderRadius="card" maxW="440px">
            <Dialog.Header>
              <Dialog.Title>{viewpoint.name}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Stack gap="4">
                <Field
                  label="Name"
                  value={name}
                  maxLength={120}
                  error={name.trim() ? undefined : 'It needs a name.'}
                  onChange={(event) => setName(event.target.value)}
                />
                <label>
                  <Text fontWeight="bold" fontSize="sm" mb="1">
                    Question to decide
                  </Text>
                  <Textarea
                    value={question}
                    maxLength={500}
                    rows={2}
                    borderColor="seam"
                    onChange={(event) => setQuestion(event.target.value)}
                  />
                </label>
                <Flex gap="3">
                  <Field
                    label="Minutes"
                    inputMode="numeric"
                    value={minutes}
                    error={isTime ? undefined : `A whole number up to ${MOST_MINUTES}, or nothing.`}
                    onChange={(event) => setMinutes(event.target.value)}
                  />
                  <Field
                    label="Group"
                    list="viewpoint-groups"
                    value={group}
                    maxLength={60}
                    onChange={(event) => setGroup(event.target.value)}
                  />
                  <datalist id="viewpoint-groups">
                    {groups.map((one) => (
                      <option key={one} value={one} />
                    ))}
                  </datalist>
                </Flex>
                <Stack as="fieldset" gap="1" border="0" p="0" m="0">
                  <Text as="legend" fontWeight="bold" fontSize="sm" mb="1">
                    What it brings back
                  </Text>
                  {PART_NAMES.map((name) => (
                    <Tick
                      key={name}
                      checked={parts.includes(name)}
                      onTick={(checked) => setParts(checked ? [...parts, name] : parts.filter((one) => one !== name))}
                    >
                      {PART_WORDS[name]}
                    </Tick>
                  ))}
                </Stack>
              </Stack>
            </Dialog.Body>
            <Dialog.Footer gap="2">
              <QuietButton onClick={onClose}>Cancel</QuietButton>
              <PrimaryButton disabled={!name.trim() || !isTime || parts.length === 0} onClick={save}>
                Save
              </PrimaryButton>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
