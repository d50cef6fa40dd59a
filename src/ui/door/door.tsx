'use client';
import { Box, Flex, Heading, Stack, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Mark } from '../frame/mark';
import { Card } from '../controls';

/** The frame of all ways in: sign-in, link and code. */
export function Door({ title, lead, children }: { title: string; lead: string; children: ReactNode }) {
  return (
    <Flex
      as="main"
      minH="100dvh"
      align="center"
      justify="center"
      p="4"
      bgGradient="to-b"
      gradientFrom="wool"
      gradientTo="felt"
    >
      <Card w="full" maxW="420px" p={{ base: '6', md: '8' }}>
        <Stack gap="5">
          <Flex align="center" gap="2" color="ink">
            <Mark />
            <Text fontWeight="bold" fontSize="lg">
              Yurta
            </Text>
          </Flex>
          <Box>
            <Heading as="h1" fontSize="2xl" lineHeight="1.2">
              {title}
            </Heading>
            <Text color="softInk" mt="2">
              {lead}
            </Text>
          </Box>
          {children}
        </Stack>
      </Card>
    </Flex>
  );
}
