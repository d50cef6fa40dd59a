'use client';
import { ChakraProvider } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Styles } from './styles';
import { system } from './theme';

export function Provider({ children }: { children: ReactNode }) {
  return (
    <Styles>
      <ChakraProvider value={system}>{children}</ChakraProvider>
    </Styles>
  );
}
