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
  /** One that `ends` is open for three days at most. */
  state: 'open' | 'ends' | 'expired' | 'revoked';
  hasPassphrase: boolean;
  /** With what the Review opens; null for the beginning. */
  viewpointId: string | null;
  /** To whom it was sent by mail; null where it was not. */
  sentTo: string | null;
  /** Who came by it, the last first. */
  openings: { name: string; at: string }[];
}

/** A link at the moment of its making. */
export interface FreshLink {
  id: string;
  url: string;
  /** To whom it was sent by mail; null where it was not. */
  sentTo: string | null;
  /** The address as an SVG picture of a QR code. */
  qr: string;
}
