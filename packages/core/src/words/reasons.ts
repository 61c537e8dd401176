import type { Need } from '../rules/index.ts';
import type { StopNames } from './named.ts';
import { inSentence } from './named.ts';
import { needLamp, needLine } from './needs.ts';

/** Why something is asked for at a stop. */
export type AskReason =
  | { readonly why: 'changed'; readonly title: string }
  /** A try came out otherwise than what is known of this place lets it. */
  | { readonly why: 'seen-otherwise' }
  | { readonly why: 'dials' }
  | { readonly why: 'not-looked-up'; readonly name: string }
  | { readonly why: 'outside-address' }
  | { readonly why: 'outside-not-public' }
  | { readonly why: 'forwards' | 'addresses' | 'rules' | 'way-out' }
  | { readonly why: 'listeners' }
  | { readonly why: 'need'; readonly need: Need };

/** Things of a stop that are not known, as they are called. */
const THINGS = {
  'outside-address': ['outside address', 'is'],
  forwards: ['forwards', 'are'],
  addresses: ['addresses', 'are'],
  rules: ['firewall', 'is'],
  'way-out': ['way out', 'is'],
} as const;

/** The reason at the stop's own place, where its name is written already. */
export function reasonLamp(reason: AskReason): string {
  switch (reason.why) {
    case 'changed':
      return `it was changed (${reason.title}), and what is here is from before`;
    case 'seen-otherwise':
      return 'a try shows something else than what is known of it';
    case 'dials':
      return 'nobody has said what the client dials';
    case 'not-looked-up':
      return `${reason.name} has not been looked up`;
    case 'outside-not-public':
      return 'its outside address is not public; what the internet sees tells what stands before it';
    case 'listeners':
      return 'what listens is not known';
    case 'need':
      return needLamp(reason.need);
    default: {
      const [thing, verb] = THINGS[reason.why];
      return `its ${thing} ${verb} not known`;
    }
  }
}

/** The reason in the middle of a sentence: the stop is named. */
export function reasonLine(reason: AskReason, stop: string, names: StopNames): string {
  const at = inSentence(names(stop));
  switch (reason.why) {
    case 'changed':
      return `${at} was changed (${reason.title}), and what is here is from before`;
    case 'seen-otherwise':
      return `a try shows something else than what is known of ${at}`;
    case 'outside-not-public':
      return `the outside address of ${at} is not public; what the internet sees tells what stands before it`;
    case 'listeners':
      return `what listens on ${at} is not known`;
    case 'need':
      return needLine(reason.need, (id) => inSentence(names(id)));
    case 'dials':
    case 'not-looked-up':
      return reasonLamp(reason);
    default: {
      const [thing, verb] = THINGS[reason.why];
      return `the ${thing} of ${at} ${verb} not known`;
    }
  }
}

/** The reason as a sentence of its own, at the stop's own place. */
export function reasonParagraph(reason: AskReason): string {
  const text = reasonLamp(reason);
  // A domain name keeps its letters at the beginning of a sentence.
  return reason.why === 'not-looked-up' ? `${text}.` : `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}
