'use client';
import { Box, Menu, Portal } from '@chakra-ui/react';
import { Ellipsis } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { RevisionSummary } from '@/core/project/models';
import { api, messageOf } from '../api';
import { IconButton, Trouble } from '../controls';

interface RevisionActsProps {
  projectId: string;
  revision: RevisionSummary;
  isNewest: boolean;
  onChanged: () => void;
}

/** What can be done with a published revision. */
export function RevisionActs({ projectId, revision, isNewest, onChanged }: RevisionActsProps) {
  const router = useRouter();
  const [trouble, setTrouble] = useState<string | null>(null);
  const cameras = revision.digest?.cameras ?? 0;
  const base = `/api/revisions/${revision.id}`;
  const acts: Record<string, { label: string; run: () => Promise<unknown> | void }> = {
    open: {
      label: 'Open in Review',
      run: () => router.push(`/projects/${projectId}/review${isNewest ? '' : `?revision=${revision.id}`}`),
    },
    ...(cameras > 0
      ? {
          cameras: {
            label: `Add its ${cameras === 1 ? 'camera' : `${cameras} cameras`} to the running order`,
            run: () => api.post(`${base}/cameras`, {}).then(() => router.push(`/projects/${projectId}/review`)),
          },
        }
      : {}),
    look: {
      label: 'Decide anew what it shows',
      run: () => lookAgain(projectId, revision.id).then((page) => router.push(page)),
    },
    ...(isNewest ? {} : { repeat: { label: 'Make it the newest again', run: () => api.post(`${base}/repeat`, {}) } }),
    ...(revision.withdrawn
      ? { restore: { label: 'Let it stand again', run: () => api.delete(`${base}/withdrawal`) } }
      : { withdraw: { label: 'Withdraw', run: () => api.post(`${base}/withdrawal`, {}) } }),
  };
  const act = async (key: string) => {
    setTrouble(null);
    try {
      await acts[key]?.run();
      if (key !== 'open') onChanged();
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return (
    <Box>
      <Menu.Root positioning={{ placement: 'bottom-end' }} onSelect={({ value }) => void act(value)}>
        <Menu.Trigger asChild>
          <IconButton label={`Acts on ${revision.code}`}>
            <Ellipsis size={20} aria-hidden />
          </IconButton>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Menu.Content bg="card" borderWidth="1px" borderColor="seam" borderRadius="card" minW="200px" p="2">
              {Object.entries(acts).map(([key, { label }]) => (
                <Menu.Item key={key} value={key} minH="44px" px="3" borderRadius="lg" fontSize="md">
                  {label}
                </Menu.Item>
              ))}
            </Menu.Content>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
      <Trouble text={trouble} />
    </Box>
  );
}

/** Has the file of a published revision read once more, to be decided about. Returns the address of the page for that. */
export async function lookAgain(projectId: string, revisionId: string): Promise<string> {
  const again = await api.post<{ revisionId: string }>(`/api/revisions/${revisionId}/look`, {});
  return `/projects/${projectId}/prepare/${again.revisionId}`;
}
