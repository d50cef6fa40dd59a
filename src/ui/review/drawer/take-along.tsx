'use client';
import { Box, Flex, Link, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { QuietButton } from '../../controls';
import { saveFile } from '../../save-file';
import { useReview, useSession } from '../session-context';
import { storeysOf } from '../storeys';

const TYPES = { glb: 'model/gltf-binary', ifc: 'application/x-step' } as const;
type Format = keyof typeof TYPES;

/** What others need in their own programs: source files, a model, or all that shows in its true place. */
export function TakeAlong() {
  const session = useSession();
  const models = useReview((state) => state.models);
  const [busy, setBusy] = useState<string | null>(null);
  const { project, you } = session.start;
  const take = (format: Format, name: string, only: string | null) =>
    session.act(async () => {
      const { stage } = session;
      if (!stage) return;
      setBusy(`${format}/${only ?? ''}`);
      try {
        const time = new Date().toISOString();
        const bytes = await stage.takeAlong(format, { name, author: you.name, time, storeys: storeysOf(stage) }, only);
        saveFile(new Blob([bytes], { type: TYPES[format] }), `${name}.${format}`);
      } finally {
        setBusy(null);
      }
    });
  return (
    <Box as="section" aria-label="Take along" mt="4" pt="3" borderTopWidth="1px" borderColor="seam">
      <Text fontWeight="bold">Take along</Text>
      <Text fontSize="sm" color="softInk" mb="2">
        What shows right now, in its true place, for other programs:
      </Text>
      <Flex gap="2" mb="3">
        {(['ifc', 'glb'] as const).map((format) => (
          <QuietButton
            key={format}
            size="sm"
            loading={busy === `${format}/`}
            onClick={() => take(format, project.name, null)}
          >
            {format.toUpperCase()}
          </QuietButton>
        ))}
      </Flex>
      {models.map(({ modelId, name, code }) => (
        <Flex key={modelId} align="center" gap="2" minH="40px" fontSize="sm">
          <Text flex="1" truncate>
            {name}{' '}
            <Box as="span" color="softInk">
              {code}
            </Box>
          </Text>
          <Link
            href={`/api/projects/${project.id}/models/${modelId}/source`}
            title="The file that it was published from. The address always gives the newest."
            color="ink"
            textDecoration="underline"
          >
            File
          </Link>
          <QuietButton
            size="xs"
            minH="34px"
            loading={busy === `glb/${modelId}`}
            onClick={() => take('glb', `${name} ${code}`, modelId)}
          >
            GLB
          </QuietButton>
        </Flex>
      ))}
    </Box>
  );
}
