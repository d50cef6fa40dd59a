'use client';
import { Button, Flex, Text } from '@chakra-ui/react';
import { chosenOption } from '@/core/options/option-set';
import { Card } from '../controls';
import { useReview, useSession } from './session-context';

/** The alternatives of each place, of which one shows; what a link has fixed is not offered. */
export function OptionSwitch() {
  const session = useSession();
  const sets = useReview((state) => state.options);
  const choice = useReview((state) => state.view.options);
  const { fixedOptions } = session.start;
  const open = sets.filter((set) => !(set.id in fixedOptions));
  if (open.length === 0) return null;
  return (
    <Flex
      direction="column"
      align="start"
      // On a phone the line of time of a meeting that is seen again stands there; its options come with it.
      display={{ base: session.replaying ? 'none' : 'flex', md: 'flex' }}
      gap="2"
    >
      {open.map((set) => {
        const chosen = chosenOption(set, choice);
        return (
          <Card key={set.id} role="radiogroup" aria-label={set.name} pl="4" pr="1.5" py="1.5">
            <Flex align="center" gap="2" wrap="wrap">
              <Text fontSize="sm" color="softInk" mr="1">
                {set.name}
              </Text>
              {set.options.map((option) => {
                const isChosen = option.id === chosen?.id;
                return (
                  <Button
                    key={option.id}
                    role="radio"
                    aria-checked={isChosen}
                    variant="ghost"
                    minH="44px"
                    px="4"
                    borderRadius="pill"
                    bg={isChosen ? 'ink' : 'transparent'}
                    color={isChosen ? 'wool' : 'ink'}
                    fontWeight={isChosen ? 'bold' : 'normal'}
                    _hover={{ bg: isChosen ? 'ink' : 'felt' }}
                    onClick={() => session.view.chooseOption(set.id, option.id)}
                  >
                    {option.name}
                  </Button>
                );
              })}
            </Flex>
          </Card>
        );
      })}
    </Flex>
  );
}
