'use client';
import { Box, Button, Input, Text, type BoxProps, type ButtonProps, type InputProps } from '@chakra-ui/react';
import { useId, type ReactNode, type Ref } from 'react';

/** The few building blocks that every screen shares. */

export function Card(props: BoxProps & { ref?: Ref<HTMLDivElement> }) {
  return <Box bg="card" borderWidth="1px" borderColor="seam" borderRadius="card" boxShadow="card" {...props} />;
}

/** The one act that a screen is for. */
export function PrimaryButton(props: ButtonProps) {
  return (
    <Button
      bg="madder"
      color="onStrong"
      borderRadius="pill"
      minH="44px"
      px="5"
      fontWeight="bold"
      _hover={{ filter: 'brightness(1.08)' }}
      {...props}
    />
  );
}

export function QuietButton(props: ButtonProps) {
  return (
    <Button
      variant="outline"
      bg={props['aria-pressed'] === true ? 'felt' : 'card'}
      color="ink"
      borderColor={props['aria-pressed'] === true ? 'ink' : 'seam'}
      borderRadius="pill"
      minH="44px"
      px="4"
      _hover={{ bg: 'felt' }}
      {...props}
    />
  );
}

export function IconButton({ label, ...props }: ButtonProps & { label: string }) {
  return (
    <Button
      aria-label={label}
      title={label}
      variant="ghost"
      color="ink"
      borderRadius="pill"
      minW="44px"
      h="44px"
      p="0"
      _hover={{ bg: 'felt' }}
      {...props}
    />
  );
}

/** Where a finger points, lines of a list are as tall as it needs; a mouse sees more of them. */
export const TOUCHED = '@media (pointer: coarse)';

/** A small act on a line of a list. */
export function RowAct({ icon, ...props }: ButtonProps & { label: string; icon: ReactNode }) {
  return (
    <IconButton
      color="softInk"
      borderRadius="l2"
      minW="30px"
      w="30px"
      h="36px"
      css={{ [TOUCHED]: { minW: '44px', h: '44px' } }}
      _hover={{ color: 'ink', bg: 'seam' }}
      _expanded={{ bg: 'transparent' }}
      {...props}
    >
      {icon}
    </IconButton>
  );
}

interface FieldProps extends InputProps {
  ref?: Ref<HTMLInputElement>;
  label: string;
  hint?: string;
  /** What is wrong with what is typed. */
  error?: string;
}

export function Field({ label, hint, error, ...input }: FieldProps) {
  const id = useId();
  const described = [hint ? `${id}-hint` : '', error ? `${id}-error` : ''].filter(Boolean).join(' ');
  return (
    <Box>
      <Text asChild fontWeight="bold" fontSize="sm" mb="1">
        <label htmlFor={id}>{label}</label>
      </Text>
      <Input
        id={id}
        bg="card"
        borderColor="seam"
        color="ink"
        minH="44px"
        borderRadius="lg"
        aria-describedby={described || undefined}
        aria-invalid={error ? true : undefined}
        {...input}
      />
      {hint ? (
        <Text id={`${id}-hint`} fontSize="sm" color="softInk" mt="1">
          {hint}
        </Text>
      ) : null}
      <FieldError id={`${id}-error`} error={error} />
    </Box>
  );
}

/** What is wrong with a field, said at the field. */
export function FieldError({ id, error }: { id?: string; error?: string }) {
  return error ? (
    <Text id={id} role="alert" fontSize="sm" color="madder" mt="1">
      {error}
    </Text>
  ) : null;
}

/** A field that narrows a list down while one types. */
export function SearchField({
  label,
  onSearch,
  ...input
}: InputProps & { label: string; onSearch: (text: string) => void }) {
  return (
    <Input
      aria-label={label}
      onChange={(event) => onSearch(event.target.value)}
      bg="wool"
      borderColor="seam"
      borderRadius="pill"
      minH="44px"
      {...input}
    />
  );
}

/** A word over the model. */
export function Note({ text, children }: { text: string; children?: ReactNode }) {
  return (
    <Box
      bg="card"
      borderWidth="1px"
      borderColor="seam"
      borderRadius="pill"
      px="4"
      py="1.5"
      fontSize="sm"
      color="softInk"
      boxShadow="card"
    >
      {text}
      {children ? (
        <Box as="span" ml="2" fontWeight="bold" color="ink" textDecoration="underline" textUnderlineOffset="3px">
          {children}
        </Box>
      ) : null}
    </Box>
  );
}

export function Trouble({ text }: { text: string | null }) {
  return (
    <Box role="alert" aria-live="assertive">
      {text ? (
        <Box borderLeftWidth="4px" borderColor="madder" bg="felt" borderRadius="md" px="3" py="2" fontSize="sm">
          {text}
        </Box>
      ) : null}
    </Box>
  );
}
