'use client';
import { Box, Flex, Slider, Stack, Text } from '@chakra-ui/react';
import { useEffect, useId, useState } from 'react';
import { useStore } from 'zustand';
import { branchesBy } from '@/core/elements/branches';
import type { FactName, FactValue } from '@/core/project/fact';
import type { Condition } from '@/core/elements/element-set';
import type { SurfaceRule } from '@/core/surfaces/surface-rule';
import { messageOf } from '../../api';
import { Choice } from '../../choice';
import { Field, QuietButton, Trouble } from '../../controls';
import { Toggle } from '../../toggle';
import { elementCount, surfaceRuleSentence } from '../../words';
import type { LookSession } from './look-session';

/** By what a rule finds the surfaces that it changes. */
type Subject = 'category' | 'material' | 'fact' | 'element';

const SUBJECTS: Record<Subject, string> = {
  category: 'a category',
  material: 'a material',
  fact: 'a fact',
  element: 'what is selected',
};
const FRESH_COLOR = '#b8793c';

/** Colours and materials that are not as they should be: rules that change them, kept for the next revisions. */
export function Surfaces({ session }: { session: LookSession }) {
  const { surfaces, rule } = useStore(session.store);
  const index = session.stage?.loadedModels[0]?.index;
  if (!rule || !index) return <Text color="softInk">The model is arriving …</Text>;
  return (
    <Box as="section" aria-label="Colours and materials">
      <Text fontSize="sm" color="softInk" mb="3">
        The file stays as it is. The next revisions are treated alike; what comes last counts.
      </Text>
      <Stack as="ol" listStyleType="none" gap="0" mb="4" aria-label="Rules">
        {surfaces.map((one, i) => (
          <Flex as="li" key={i} gap="3" align="center" borderTopWidth="1px" borderColor="seam" py="2">
            <Box
              w="24px"
              h="24px"
              flexShrink="0"
              borderRadius="full"
              borderWidth="1px"
              borderColor="softInk"
              bg={one.color ?? 'transparent'}
              aria-hidden
            />
            <Box flex="1" minW="0">
              <Text overflowWrap="anywhere">{surfaceRuleSentence(one)}</Text>
              <Text fontSize="sm" color="softInk">
                {elementCount(session.rowsOf(one, index).length)}
              </Text>
            </Box>
            <QuietButton
              size="sm"
              aria-label={`Remove: ${surfaceRuleSentence(one)}`}
              onClick={() => session.removeSurfaceRule(one)}
            >
              Remove
            </QuietButton>
          </Flex>
        ))}
      </Stack>
      <NewRule session={session} onAdd={(one) => session.addSurfaceRule(one)} />
    </Box>
  );
}

function NewRule({ session, onAdd }: { session: LookSession; onAdd: (rule: SurfaceRule) => void }) {
  const { selected, triangles } = useStore(session.store);
  const index = session.stage!.loadedModels[0]!.index;
  const [by, setBy] = useState<Subject>('category');
  const [value, setValue] = useState('');
  const [color, setColor] = useState<string | null>(FRESH_COLOR);
  const [opacity, setOpacity] = useState(1);
  const [material, setMaterial] = useState('');
  const facts = useFacts(session, by === 'fact');

  const branches = by === 'category' || by === 'material' ? branchesBy(index, by, triangles) : [];
  const values =
    by === 'fact' ? facts.values.map((one) => one.value) : branches.map((one) => one.value).filter(Boolean);
  const chosen = by === 'element' ? (selected?.guid ?? '') : values.includes(value) ? value : (values[0] ?? '');
  const asked = (): Condition => {
    if (by === 'element') return { is: 'element', guids: [chosen] };
    if (by === 'fact') return { is: 'fact', set: facts.name!.set, name: facts.name!.name, value: chosen };
    return { is: by, value: chosen };
  };
  const add = () =>
    onAdd({
      of: [asked()],
      label: by === 'element' ? selected!.name : by === 'fact' ? `${facts.name!.name}: ${chosen}` : chosen,
      color,
      opacity,
      material: material.trim() || null,
    });
  const sense = chosen !== '' && (color !== null || material.trim() !== '');
  return (
    <Stack gap="3" bg="felt" borderRadius="lg" p="3">
      <Choice
        label="Change"
        value={by}
        onChoose={(next) => setBy(next as Subject)}
        options={Object.entries(SUBJECTS)}
      />
      {by === 'fact' ? (
        <>
          {facts.trouble ? <Trouble text={facts.trouble} /> : null}
          <Choice label="Fact" value={facts.key} onChoose={facts.choose} options={facts.names} />
        </>
      ) : null}
      {by === 'element' ? (
        <Text fontSize="sm">{selected ? selected.name : 'Click on something in the model.'}</Text>
      ) : (
        <Choice label="Which" value={chosen} onChoose={setValue} options={values.map((one) => [one, one])} />
      )}
      <ColorChoice color={color} onColor={setColor} opacity={opacity} onOpacity={setOpacity} />
      <Field
        label="Material is called"
        placeholder="as in the file"
        value={material}
        maxLength={200}
        onChange={(event) => setMaterial(event.target.value)}
      />
      <QuietButton disabled={!sense} onClick={add}>
        Change it
      </QuietButton>
    </Stack>
  );
}

/** The facts of the elements, and the values of the one that is chosen; asked for when somebody wants them. */
function useFacts(session: LookSession, wanted: boolean) {
  const [names, setNames] = useState<FactName[]>([]);
  const [key, setKey] = useState('0');
  const [values, setValues] = useState<FactValue[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    if (!wanted || names.length > 0) return;
    session.factNames().then(setNames, (error: unknown) => setTrouble(messageOf(error)));
  }, [session, wanted, names]);
  const name = names[Number(key)];
  useEffect(() => {
    let current = true;
    if (name)
      session.factValues(name.set, name.name).then(
        (found) => current && setValues(found),
        (error: unknown) => setTrouble(messageOf(error)),
      );
    return () => {
      current = false;
    };
  }, [session, name]);
  return {
    name,
    key,
    values,
    trouble,
    choose: setKey,
    names: names.map((one, i): [string, string] => [String(i), `${one.name} (${one.set})`]),
  };
}

interface ColorChoiceProps {
  color: string | null;
  onColor: (color: string | null) => void;
  opacity: number;
  onOpacity: (opacity: number) => void;
}

function ColorChoice({ color, onColor, opacity, onOpacity }: ColorChoiceProps) {
  const id = useId();
  return (
    <Box>
      <Flex align="center" gap="3" minH="44px">
        <Toggle checked={color !== null} onToggle={(checked) => onColor(checked ? FRESH_COLOR : null)} flex="1">
          Another colour
        </Toggle>
        {color ? (
          <label htmlFor={id}>
            <Text as="span" srOnly>
              Colour
            </Text>
            <input
              id={id}
              type="color"
              value={color}
              onChange={(event) => onColor(event.target.value)}
              style={{ width: 64, height: 44, borderRadius: 8, cursor: 'pointer' }}
            />
          </label>
        ) : null}
      </Flex>
      {color ? (
        <Slider.Root
          aria-label={['How solid']}
          value={[opacity * 100]}
          min={5}
          max={100}
          step={5}
          onValueChange={({ value }) => onOpacity(value[0]! / 100)}
          colorPalette="gray"
          px="2"
        >
          <Flex justify="space-between" fontSize="sm">
            <Text>Clear to solid</Text>
            <Text color="softInk">
              {opacity < 1 ? `${Math.round(opacity * 100)} % solid, seen once published` : 'solid'}
            </Text>
          </Flex>
          <Slider.Control>
            <Slider.Track bg="card">
              <Slider.Range bg="ink" />
            </Slider.Track>
            <Slider.Thumbs />
          </Slider.Control>
        </Slider.Root>
      ) : null}
    </Box>
  );
}
