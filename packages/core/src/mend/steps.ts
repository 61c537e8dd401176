import type { RuleWish } from '../devices/index.ts';
import { addressSet, ADDRESS_LENGTH, prefixOf, PROTOCOL, type Family } from '../net/index.ts';
import type { Field, Step, ValueSet } from '../rules/index.ts';

const match = (field: Field, values: ValueSet): Step => ({
  do: 'match',
  fields: [field],
  rows: [[values]],
  negate: false,
});

function lastOf(then: RuleWish['then'], family: Family): Step {
  switch (then.do) {
    case 'accept':
      return { do: 'verdict', verdict: { verdict: 'accept' } };
    case 'masquerade':
      return { do: 'masquerade', ports: null };
    case 'translate': {
      const ports = then.port === undefined ? null : { first: then.port, last: then.port, base: null };
      return {
        do: 'translate',
        side: 'destination',
        family,
        target: { addresses: { first: then.to, last: then.to }, ports },
      };
    }
  }
}

/** The steps of a rule as it is wished for, for the copy on which it is rehearsed. */
export function stepsOf({ family, transport, peers, destination, port, side, then }: RuleWish): Step[] {
  const asks = side === 'question';
  const protocol = PROTOCOL[transport];
  const own = destination && addressSet(prefixOf(destination, ADDRESS_LENGTH[destination.family]));
  const last = lastOf(then, family);
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
