import type { Observation } from '../case/index.ts';
import type { StopNames } from './named.ts';

/** What is left to do once a change was made. */
export type Afterwards =
  | { readonly is: 'retest'; readonly title: string; readonly day: string }
  | { readonly is: 'review'; readonly title: string; readonly day: string }
  | { readonly is: 'send-again'; readonly title: string; readonly stop: string }
  | { readonly is: 'log-off'; readonly stop: string }
  | {
      readonly is: 'reserve';
      readonly stop: string;
      readonly address: string;
      readonly name: string | null;
    };

/** `day` in words or ISO 8601, as the reader writes days. */
export function afterwardsText(a: Afterwards, names: StopNames): string {
  switch (a.is) {
    case 'retest':
      return `Nobody has tried since “${a.title}” was made on ${a.day}: let the client try.`;
    case 'review':
      return `Look again on ${a.day} whether “${a.title}” is still needed as wide as it was made.`;
    case 'send-again':
      return `Have ${names(a.stop)} listed once more: “${a.title}” has not been seen in a listing yet.`;
    case 'log-off':
      return `Switch the log of ${names(a.stop)} off again, if it was switched on for this.`;
    case 'reserve':
      return (
        `Reserve ${a.address} ${a.name ? `for “${a.name}” ` : ''}on ${names(a.stop)}, unless it is: ` +
        'it was only lent, and the forward follows the address.'
      );
  }
}

const OUTCOMES: Readonly<Record<Observation['outcome'], string>> = {
  answered: 'answered',
  refused: 'refused at once',
  lost: 'no answer',
};

const VANTAGES: Readonly<Record<Observation['vantage'], string>> = {
  host: 'on the server itself',
  lan: 'from inside, by the inside address',
  'lan-by-outside-address': 'from inside, by the outside address',
  client: 'from the client, by the address',
  'client-by-name': 'from the client, by the name',
  outside: 'from another network',
};

/** From where somebody tries. */
export const vantageText = (vantage: Observation['vantage']): string => VANTAGES[vantage];

/** What somebody saw: from where, to what, how it came out. */
export const observationText = (o: Observation): string =>
  `${VANTAGES[o.vantage]}, ${o.to}: ${o.other ? 'something else answered' : OUTCOMES[o.outcome]}`;
