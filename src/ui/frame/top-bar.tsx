'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import type { ReactNode } from 'react';
import dynamic from 'next/dynamic';
import type { Account } from './account-menu';
import { Mark } from './mark';

/** Guests and the Review have none, and do not load it. */
const AccountMenu = dynamic(() => import('./account-menu').then((module) => module.AccountMenu));

export type Station = 'prepare' | 'review' | 'follow-up';

const STATIONS: { key: Station; label: string }[] = [
  { key: 'prepare', label: 'Prepare' },
  { key: 'review', label: 'Review' },
  { key: 'follow-up', label: 'Follow-up' },
];

interface TopBarProps {
  project?: { id: string; name: string };
  /** Which station is open; absent for guests, who have only one. */
  station?: Station;
  home: string;
  /** Whose bell and menu stand at the end; absent for guests and in the Review, where they would disturb. */
  account?: Account;
  children?: ReactNode;
}

/** Name and project on the left, the three stations in the middle, the people on the right. */
export function TopBar({ project, station, home, account, children }: TopBarProps) {
  return (
    <Flex
      as="header"
      data-covers
      h="56px"
      px={{ base: '3', md: '5' }}
      align="center"
      gap="3"
      position="relative"
      zIndex="20"
      css={{ background: 'linear-gradient(var(--chakra-colors-wool) 45%, transparent)' }}
    >
      <NextLink href={home} aria-label="Yurta, home">
        <Flex align="center" gap="2" color="ink">
          <Mark />
          <Text fontWeight="bold" fontSize="lg" display={{ base: project ? 'none' : 'block', md: 'block' }}>
            Yurta
          </Text>
        </Flex>
      </NextLink>
      {project ? (
        <Text
          color="ink"
          truncate
          display={{ base: station ? 'none' : 'block', sm: 'block' }}
          maxW={{ base: '34vw', md: '22vw' }}
          ml={{ md: '2' }}
        >
          {project.name}
        </Text>
      ) : null}
      {station && project ? (
        <Box
          as="nav"
          aria-label="Stations"
          position={{ lg: 'absolute' }}
          left={{ lg: '50%' }}
          transform={{ lg: 'translateX(-50%)' }}
        >
          <Flex bg="card" borderWidth="1px" borderColor="seam" borderRadius="pill" p="3px" gap="2px">
            {STATIONS.map(({ key, label }) => (
              <NextLink
                key={key}
                href={`/projects/${project.id}/${key}`}
                aria-current={key === station ? 'page' : undefined}
              >
                <Box
                  px={{ base: '2', md: '5' }}
                  whiteSpace="nowrap"
                  py="1.5"
                  borderRadius="pill"
                  fontSize={{ base: 'sm', md: 'md' }}
                  bg={key === station ? 'ink' : 'transparent'}
                  color={key === station ? 'wool' : 'softInk'}
                  fontWeight={key === station ? 'bold' : 'normal'}
                >
                  {label}
                </Box>
              </NextLink>
            ))}
          </Flex>
        </Box>
      ) : null}
      <Flex ml="auto" align="center" gap="2">
        {children}
        {account ? <AccountMenu account={account} /> : null}
      </Flex>
    </Flex>
  );
}
