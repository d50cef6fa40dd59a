import type { TokenRight } from '../rights';

/** A personal access token as its owner sees it later: the token itself is shown once and never again. */
export interface TokenSummary {
  id: string;
  label: string;
  right: TokenRight;
  createdAt: string;
  expiresAt: string;
  /** When a program last used it, or null. */
  usedAt: string | null;
  state: 'open' | 'expired' | 'revoked';
}
