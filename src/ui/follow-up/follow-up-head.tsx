import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import type { ReactNode } from 'react';

const PAGES = [
  ['', 'What was said'],
  ['/approvals', 'Approvals'],
  ['/feed', 'What was done'],
  ['/notes', 'My notes'],
  ['/programs', 'Other programs'],
] as const;

export type FollowUpPage = 'follow-up' | 'approvals' | 'feed' | 'notes' | 'programs';

interface FollowUpHeadProps {
  projectId: string;
  page: FollowUpPage;
  title: string;
  lead?: ReactNode;
  /** Whether all pages are there; guests have only this one. */
  isMember?: boolean;
  children?: ReactNode;
}

/** The head of a page of Follow-up: its title, what can be done there, and the way to the others. */
export function FollowUpHead({ projectId, page, title, lead, isMember = true, children }: FollowUpHeadProps) {
  return (
    <Box mb="4">
      {isMember ? (
        <Flex as="nav" aria-label="Follow-up" gap="1" mb="4" overflowX="auto" whiteSpace="nowrap">
          {PAGES.map(([path, label]) => {
            const isHere = path === '' ? page === 'follow-up' : path === `/${page}`;
            return (
              <NextLink
                key={path}
                href={path === '' ? `/projects/${projectId}/follow-up` : `/projects/${projectId}${path}`}
                aria-current={isHere ? 'page' : undefined}
              >
                <Box
                  px="3"
                  py="2"
                  minH="40px"
                  fontWeight={isHere ? 'bold' : 'normal'}
                  color={isHere ? 'ink' : 'softInk'}
                  borderBottomWidth="2px"
                  borderColor={isHere ? 'madder' : 'transparent'}
                >
                  {label}
                </Box>
              </NextLink>
            );
          })}
        </Flex>
      ) : null}
      <Flex align="end" gap="3" wrap="wrap">
        <Box flex="1" minW="220px">
          <Heading as="h1" fontSize="3xl">
            {title}
          </Heading>
          {lead ? <Text color="softInk">{lead}</Text> : null}
        </Box>
        {children}
      </Flex>
    </Box>
  );
}
