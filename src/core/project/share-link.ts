import type { OptionChoice } from '../options/option-set';
import type { LinkRight } from '../rights';

/** A link as its makers see it later: the token itself is shown once and never again. */
export interface LinkSummary {
  id: string;
  label: string;
  right: LinkRight;
  /** Design options that whoever comes by it cannot switch. */
  options: OptionChoice;
  createdAt: string;
  expiresAt: string;
  state: 'open' | 'expired' | 'revoked';
}

/** A link at the moment of its making. */
export interface FreshLink {
  id: string;
  url: string;
  /** The address as an SVG picture of a QR code. */
  qr: string;
}
