'use client';
import { Box, Menu, Portal, Text } from '@chakra-ui/react';
import { useRouter } from 'next/navigation';
import { api } from '../api';
import { Bell } from './bell';

/** Who is signed in, and whether there is an Outbox to read. */
export interface Account {
  name: string;
  outbox: boolean;
}

/** Bell and menu of the account, at the right end of the bar. */
export function AccountMenu({ account: { name, outbox } }: { account: Account }) {
  const router = useRouter();
  const places: [string, string][] = [
    ['/projects', 'Projects'],
    ['/actions', 'My list'],
    ['/jobs', 'Jobs'],
    ...(outbox ? [['/outbox', 'Outbox'] as [string, string]] : []),
    ['/feed', 'What was done'],
    ['/settings', 'Settings'],
  ];
  const signOut = async () => {
    await api.post('/api/auth/sign-out', {});
    location.assign('/sign-in');
  };
  return (
    <>
      <Bell />
      <Menu.Root
        positioning={{ placement: 'bottom-end' }}
        onSelect={({ value }) => (value === 'sign-out' ? void signOut() : router.push(value))}
      >
        <Menu.Trigger asChild>
          <Box
            as="button"
            aria-label={`Account of ${name}`}
            title={name}
            w="40px"
            h="40px"
            borderRadius="pill"
            borderWidth="1px"
            borderColor="seam"
            bg="felt"
            color="ink"
            fontWeight="bold"
            fontSize="sm"
            cursor="pointer"
          >
            {initials(name)}
          </Box>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Menu.Content bg="card" borderWidth="1px" borderColor="seam" borderRadius="card" minW="180px" p="2">
              <Text px="3" py="2" fontSize="sm" color="softInk">
                {name}
              </Text>
              {places.map(([address, label]) => (
                <Menu.Item key={address} value={address} minH="44px" px="3" borderRadius="lg" fontSize="md">
                  {label}
                </Menu.Item>
              ))}
              <Menu.Separator borderColor="seam" />
              <Menu.Item value="sign-out" minH="44px" px="3" borderRadius="lg" fontSize="md">
                Sign out
              </Menu.Item>
            </Menu.Content>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
    </>
  );
}

/** Of the first and the last of the names. */
function initials(name: string): string {
  const names = name.trim().split(/\s+/);
  const ends = names.length > 1 ? [names[0]!, names.at(-1)!] : names;
  return ends.map((one) => [...one][0]?.toUpperCase() ?? '').join('');
}
