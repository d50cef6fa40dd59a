'use client';
import { ChakraProvider } from '@chakra-ui/react';
import { ThemeProvider } from 'next-themes';
import type { ReactNode } from 'react';
import { Styles } from './styles';
import { system } from './theme';

/** @param nonce of the page's policy, for the script that knows before the first picture whether it is dark */
export function Provider({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  return (
    <Styles>
      <ThemeProvider attribute="class" nonce={nonce} disableTransitionOnChange>
        <ChakraProvider value={system}>{children}</ChakraProvider>
      </ThemeProvider>
    </Styles>
  );
}
