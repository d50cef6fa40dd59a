import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

/** Of five grades, the first that withstands being tried by somebody who has the stored hash for a while. */
const GOOD = 3;

let estimator: ZxcvbnFactory | undefined;

/**
 * Whether a password would be among the first that somebody tries: one that is known from leaks, a pattern of keys, a repetition,
 * or made of what everybody knows of its owner.
 *
 * @param known name and address of its owner
 */
export function isGuessable(password: string, known: readonly string[]): boolean {
  estimator ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });
  const words = known.flatMap((text) => [text, ...text.split(/[^\p{L}\p{N}]+/u)]).filter(Boolean);
  return estimator.check(password, [...words, 'yurta']).score < GOOD;
}
