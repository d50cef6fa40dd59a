import { existsSync } from 'node:fs';

const SETPRIV = '/usr/bin/setpriv';

/**
 * A command line whose process ends with the one that starts it, however that ends: even killed, it leaves nothing
 * behind that holds a port or works on a file. Where Debian's setpriv is missing, the command stays as it is.
 */
export function dieWithParent(command: string[]): [program: string, ...args: string[]] {
  const line = existsSync(SETPRIV) ? [SETPRIV, '--pdeathsig', 'KILL', ...command] : command;
  return line as [string, ...string[]];
}
