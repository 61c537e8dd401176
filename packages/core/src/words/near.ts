import { nth } from '../place/index.ts';
import { formatAddress, formatPrefix, toPrefixes, type Address, type AddressSet } from '../net/index.ts';

/**
 * How an address misses a rule's addresses, told by the nearest of them: where it differs, so that a slip of
 * the pen shows.
 */
export function addressMiss(address: Address, set: AddressSet): string {
  const own = formatAddress(address);
  const prefixes = toPrefixes({
    4: address.family === 4 ? set[4] : [],
    6: address.family === 6 ? set[6] : [],
  });
  if (prefixes.length === 0) return `is ${own}`;
  if (prefixes.length > 64) return `is ${own}, not among them`;
  const parts = own.split(/[.:]/);
  const alike = (text: string): number => {
    const other = text.replace(/\/\d+$/, '').split(/[.:]/);
    return parts.filter((p, i) => p === other[i]).length;
  };
  const nearest = prefixes
    .map(formatPrefix)
    .reduce((best, text) => (alike(text) > alike(best) ? text : best));
  const differing = parts.flatMap((p, i) =>
    p === nearest.replace(/\/\d+$/, '').split(/[.:]/)[i] ? [] : [i],
  );
  if (address.family === 4 && differing.length === 1)
    return `is ${own}: differs in the ${ORDINALS[nth(differing, 0)]} octet`;
  return (
    `is ${own}, not in ` +
    `${prefixes.length > 3 ? `any of ${prefixes.length} prefixes` : prefixes.map(formatPrefix).join(', ')}`
  );
}

const ORDINALS = ['first', 'second', 'third', 'last'] as const;
