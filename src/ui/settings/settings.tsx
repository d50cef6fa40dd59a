'use client';
import { Box, Flex, Grid, Heading, Stack, Text } from '@chakra-ui/react';
import type { TokenSummary } from '@/core/project/access-token';
import { ThemeChoice } from '../theme-choice';
import { DailyMail } from './daily-mail';
import { Password } from './password';
import { Tokens } from './tokens';

/** What an account decides for itself. */
export function Settings({
  name,
  email,
  tokens,
  dailyMail,
}: {
  name: string;
  email: string;
  tokens: TokenSummary[];
  /** Whether this person gets a mail a day. */
  dailyMail: boolean;
}) {
  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <Heading as="h1" fontSize="3xl">
        Settings
      </Heading>
      <Text color="softInk" mb="6">
        {name}, {email}
      </Text>
      <Grid templateColumns={{ base: '1fr', lg: '1fr 380px' }} gap="6" alignItems="start">
        <Tokens initial={tokens} />
        <Stack gap="6">
          <DailyMail initial={dailyMail} />
          <Password />
          <Flex>
            <ThemeChoice />
          </Flex>
        </Stack>
      </Grid>
    </Box>
  );
}
