'use client';
import { Box, Button, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { Overlay } from './overlay/overlay';
import { useSession } from './session-context';
import { useToolKeys } from './tools/use-tool-keys';

const HINT_MS = 3500;

/** Nothing but the model, for sharing the screen and for projectors; Q or the corner brings the rest back. */
export function Quiet() {
  const session = useSession();
  const [isHinting, setHinting] = useState(true);
  useToolKeys(session);
  useEffect(() => {
    const timer = setTimeout(() => setHinting(false), HINT_MS);
    return () => clearTimeout(timer);
  }, []);
  return (
    <>
      <Overlay />
      <Box position="absolute" zIndex="20" right="8px" bottom="8px">
        <Button
          aria-label="Show everything again"
          title="Show everything again (Q)"
          variant="ghost"
          minW="56px"
          h="56px"
          borderRadius="50%"
          opacity={isHinting ? 0.9 : 0.12}
          _hover={{ opacity: 0.9 }}
          _focusVisible={{ opacity: 0.9 }}
          onClick={() => session.store.setState({ quiet: false })}
        >
          <Box w="18px" h="18px" borderRadius="50%" borderWidth="3px" borderColor="ink" />
        </Button>
      </Box>
      {isHinting ? (
        <Text
          role="status"
          position="absolute"
          zIndex="20"
          right="72px"
          bottom="22px"
          fontSize="sm"
          px="3"
          py="1"
          borderRadius="pill"
          bg="card"
        >
          Press Q to bring everything back.
        </Text>
      ) : null}
    </>
  );
}
