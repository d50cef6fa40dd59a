import { useMediaQuery } from '@chakra-ui/react';

/** Whether the picture is as narrow as a phone's. On the server nobody knows yet. */
export function useIsPhone(): boolean {
  const [isPhone] = useMediaQuery(['(max-width: 767px)'], { fallback: [false] });
  return isPhone ?? false;
}
