import type { Became } from '../ledger/index.ts';

const BECAME: Readonly<Record<Became, string>> = {
  came: 'came',
  'kept-out': 'kept out',
  'let-in': 'let in',
  answered: 'answered',
  refused: 'refused',
  'not-answered': 'not answered',
  'answer-lost': 'answered, and the answer does not arrive',
  'answer-refused': 'answered, and the client refuses the answer',
  'only-answers': 'only the answer passes here, the question went another way',
};

/** What a record says became of a packet, in one or two words. */
export const becameText = (became: Became): string => BECAME[became];

/** Whose packet a capture shows in answer to a question. */
export type Teller =
  | { readonly is: 'icmp'; readonly from: string; readonly type: number; readonly code: number }
  | { readonly is: 'reset'; readonly from: string }
  /** It answered from an address that was not asked. */
  | { readonly is: 'other'; readonly from: string };

/** ICMP errors (RFC 792, RFC 1812 §5.2.7.1, RFC 4443 §3.1), the rest by number. */
const ICMP: Readonly<Record<string, string>> = {
  '3/0': 'no route to that network',
  '3/1': 'nobody at that address',
  '3/3': 'nothing listens on that port',
  '3/9': 'prohibited by a filter',
  '3/10': 'prohibited by a filter',
  '3/13': 'prohibited by a filter',
};
const ICMP6: Readonly<Record<string, string>> = {
  '1/0': 'no route to that network',
  '1/1': 'prohibited by a filter',
  '1/3': 'nobody at that address',
  '1/4': 'nothing listens on that port',
  '1/5': 'prohibited by a filter',
  '1/6': 'prohibited by a filter',
};

/** What became of a question and who told it: `refused by 203.0.113.50: prohibited by a filter`. */
export function endText(became: Became, by: Teller | null): string {
  const text = becameText(became);
  switch (by?.is) {
    case undefined:
      return text;
    case 'icmp': {
      const own = by.from.includes(':') ? ICMP6 : ICMP;
      const why = own[`${by.type}/${by.code}`] ?? `ICMP type ${by.type}, code ${by.code}`;
      return became === 'answer-lost' ? `${text}: ${by.from} says ${why}` : `${text} by ${by.from}: ${why}`;
    }
    case 'reset':
      return `${text} with a reset of ${by.from}`;
    case 'other':
      return `answered by ${by.from} instead, which it did not ask`;
  }
}

/** What an ending says of the way, and where to look. */
export const NEXT: Readonly<Partial<Record<Became | 'other', string>>> = {
  other:
    'The answer does not go back through the router that translated the question. Let inside clients dial ' +
    'the inside address, or have the router translate the sender as well.',
  'answer-refused':
    'It resets what it did not ask for: the answer reaches it from another address than the one it ' +
    'dialled, past the router that translated the question.',
  'answer-lost':
    'The question arrives and the answer leaves: look at the way back, first at the default route of the ' +
    'server and at the interface by which the answer leaves.',
  'only-answers':
    'The answer leaves by another way than the question came: look at the default route of the server.',
};
