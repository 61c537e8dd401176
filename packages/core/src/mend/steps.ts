import type { RuleWish } from '../devices/index.ts';
import { addressSet, ADDRESS_LENGTH, prefixOf, PROTOCOL } from '../net/index.ts';
import type { Field, Step, ValueSet } from '../rules/index.ts';

const match = (field: Field, values: ValueSet): Step => ({
  do: 'match',
  fields: [field],
  rows: [[values]],
  negate: false,
});

/** The steps of a rule as it is wished for, for the copy on which it is rehearsed. */
export function stepsOf({ family, transport, peers, destination, port, side, then }: RuleWish): Step[] {
  const asks = side === 'question';
  const protocol = PROTOCOL[transport];
  const own = destination && addressSet(prefixOf(destination, ADDRESS_LENGTH[destination.family]));
  const last: Step =
    then.do === 'accept'
      ? { do: 'verdict', verdict: { verdict: 'accept' } }
      : {
          do: 'translate',
          side: 'destination',
          family,
          target: { addresses: { first: then.to, last: then.to }, ports: null },
        };
  return [
    ...(peers
      ? [
          match(
            { of: asks ? 'source' : 'destination', family },
            { type: 'addresses', set: addressSet(...peers) },
          ),
        ]
      : []),
    ...(own ? [match({ of: 'destination', family }, { type: 'addresses', set: own })] : []),
    match(
      { of: asks ? 'dport' : 'sport', protocol },
      { type: 'numbers', set: [{ first: port, last: port }] },
    ),
    last,
  ];
}
