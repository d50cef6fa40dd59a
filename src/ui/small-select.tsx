import { NativeSelect } from '@chakra-ui/react';

interface SmallSelectProps {
  /** What screen readers say. */
  label: string;
  value: string;
  options: readonly (readonly [value: string, text: string])[];
  onChange: (value: string) => void;
}

/** One of several, where there is little room: as wide as it may be. */
export function SmallSelect({ label, value, options, onChange }: SmallSelectProps) {
  return (
    <NativeSelect.Root flex="1" minW="0" size="sm">
      <NativeSelect.Field
        aria-label={label}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        minH="40px"
        borderColor="seam"
      >
        {options.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
