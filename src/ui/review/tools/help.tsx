'use client';
import { Box, Flex, Heading, Kbd, Text } from '@chakra-ui/react';
import { X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Card, IconButton } from '../../controls';
import { useSession } from '../session-context';
import { toolsFor } from './registry';

const KEYS: [string, string][] = [
  ['Arrows', 'turn'],
  ['Shift arrows', 'move'],
  ['+ −', 'zoom'],
  ['W', 'see the whole model'],
  ['B  N', 'the place before, the place after'],
  ['Page Down', 'the next viewpoint'],
  ['Page Up', 'the viewpoint before'],
  ['P', 'pictures: take one, those that were kept'],
  ['Q', 'a quiet screen: nothing but the model'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Escape', 'put the tool away'],
  ['?', 'this page'],
];

/** All tools and keys on one card. */
export function Help() {
  const session = useSession();
  const card = useRef<HTMLDivElement>(null);
  const close = () => session.store.setState({ help: false });
  useEffect(() => card.current?.focus(), []);
  return (
    <Flex position="absolute" inset="0" zIndex="25" align="center" justify="center" p="4" onClick={close}>
      <Card
        ref={card}
        role="dialog"
        aria-labelledby="help-title"
        tabIndex={-1}
        p="6"
        maxW="560px"
        maxH="100%"
        overflowY="auto"
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.key === 'Escape' && close()}
      >
        <Flex align="center" mb="2">
          <Heading as="h2" id="help-title" fontSize="lg" flex="1">
            Tools and keys
          </Heading>
          <IconButton label="Close" onClick={close}>
            <X size={18} aria-hidden />
          </IconButton>
        </Flex>
        <Box as="dl">
          {toolsFor(session.start.rights).map((tool) => (
            <Flex key={tool.name} gap="3" py="2" borderBottomWidth="1px" borderColor="felt">
              <Flex as="dt" w="120px" flexShrink="0" gap="2" align="start" fontWeight="bold">
                <Kbd>{tool.key.toUpperCase()}</Kbd> {tool.label}
              </Flex>
              <Text as="dd">{tool.help}</Text>
            </Flex>
          ))}
          {KEYS.map(([key, meaning]) => (
            <Flex key={key} gap="3" py="1.5">
              <Box as="dt" w="120px" flexShrink="0">
                <Kbd>{key}</Kbd>
              </Box>
              <Text as="dd">{meaning}</Text>
            </Flex>
          ))}
        </Box>
      </Card>
    </Flex>
  );
}
