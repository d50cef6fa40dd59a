'use client';
import { Button, Flex, Text } from '@chakra-ui/react';
import { useReview, useSession } from '../session-context';

/** What was done to a viewpoint last, and the way back. */
export function UndoNote() {
  const session = useSession();
  const undone = useReview((state) => state.undone);
  if (!undone) return null;
  return (
    <Flex
      position="absolute"
      right="12px"
      top="12px"
      bg="ink"
      color="wool"
      borderRadius="pill"
      pl="4"
      align="center"
      gap="1"
      role="status"
    >
      <Text fontSize="sm">{undone.text}</Text>
      <Button
        variant="ghost"
        color="wool"
        fontWeight="bold"
        _hover={{ bg: 'softInk' }}
        onClick={() => void session.records.undo()}
      >
        Undo
      </Button>
      <Button
        variant="ghost"
        color="wool"
        aria-label="Close"
        _hover={{ bg: 'softInk' }}
        onClick={() => session.store.setState({ undone: null })}
      >
        ×
      </Button>
    </Flex>
  );
}
