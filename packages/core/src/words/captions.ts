import type { Ending } from '../crossing/index.ts';
import type { Mend } from '../mend/index.ts';
import { formatAddress, formatEndpoint, type Address, type Endpoint } from '../net/index.ts';
import type { Need } from '../rules/index.ts';
import { endingText } from './endings.ts';
import { mendLine } from './mends.ts';
import type { StopNames } from './named.ts';
import { needLamp } from './needs.ts';

/** What stands under a gate of the crossing: the fact or rule that decided there. */
export type Caption =
  | { readonly caption: 'address'; readonly address: Address | null }
  | { readonly caption: 'no-such-name' | 'no-address' | 'not-looked-up' }
  | { readonly caption: 'mend'; readonly mend: Mend }
  | { readonly caption: 'ended'; readonly ending: Ending; readonly stop: string | null }
  | { readonly caption: 'need'; readonly need: Need }
  /** Something is known there, and the packet has not come to it; or nothing is known at all. */
  | { readonly caption: 'not-come-this-far' | 'nothing-known' }
  /** The packet takes a way that does not lead there. */
  | { readonly caption: 'aside' }
  /** `address`: null where it listens on all of them. */
  | { readonly caption: 'listens'; readonly address: Address | null }
  | { readonly caption: 'takes-it' }
  | { readonly caption: 'forwards'; readonly to: Endpoint }
  | { readonly caption: 'carries'; readonly toPublic: boolean }
  | { readonly caption: 'rule'; readonly text: string }
  | { readonly caption: 'lets-in' | 'passes-on' };

/** Captions have room for two short lines. */
const MOST = 92;
const shorten = (text: string): string => (text.length > MOST ? `${text.slice(0, MOST - 2)}…` : text);

export const captionText = (caption: Caption, names: StopNames): string => shorten(wholeText(caption, names));

function wholeText(c: Caption, names: StopNames): string {
  switch (c.caption) {
    case 'address':
      return c.address === null ? '' : formatAddress(c.address);
    case 'no-such-name':
      return 'no such name';
    case 'no-address':
      return 'no address record';
    case 'not-looked-up':
      return 'not looked up';
    case 'mend':
      return mendLine(c.mend, names);
    case 'ended':
      return endingText(c.ending, c.stop, names);
    case 'need':
      return `open: ${needLamp(c.need)}`;
    case 'not-come-this-far':
      return 'the packet has not come this far';
    case 'nothing-known':
      return 'nothing known yet';
    case 'aside':
      return 'the packet does not come here';
    case 'listens':
      return `listens on ${c.address === null ? 'all addresses' : formatAddress(c.address)}`;
    case 'takes-it':
      return 'takes it';
    case 'forwards':
      return `forwards to ${formatEndpoint(c.to)}`;
    case 'carries':
      return c.toPublic ? 'carries it to a public address' : 'carries it';
    case 'rule':
      return `let through by “${c.text}”`;
    case 'lets-in':
      return 'lets it in';
    case 'passes-on':
      return 'passes it on';
  }
}
