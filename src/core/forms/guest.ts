/** How a guest comes in: by a name, and the code of a meeting where no link brought them. */
export interface GuestForm {
  name: string;
  code: string;
  passphrase: string;
  /** Where the minutes are sent; may be left out. */
  email: string;
}

/**
 * What is wrong with each field. Written out by hand, because the guest's door is the one form that a phone loads on a slow
 * line.
 *
 * @param needsCode whether no link has brought them
 */
export function guestFaults(
  { name = '', code = '', email = '' }: Partial<GuestForm>,
  needsCode: boolean,
): Partial<GuestForm> {
  return {
    ...(name.trim() === '' && { name: 'Your name is missing.' }),
    ...(email.trim() !== '' && !/^\S+@\S+\.\S+$/.test(email.trim()) && { email: 'That is no mail address.' }),
    ...(needsCode &&
      ![6, 9].includes(digitsOf(code).length) && { code: 'A meeting code has six digits, such as 482 917.' }),
  };
}

/** A code as it is typed, with or without a gap. */
export function digitsOf(code: string): string {
  return code.replace(/\D/g, '');
}
