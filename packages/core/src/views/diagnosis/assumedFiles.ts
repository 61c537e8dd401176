import type { Fact } from '../../facts/index.ts';
import type { ReadFile } from '../../ledger/index.ts';
import { formatAddress } from '../../net/index.ts';
import type { NetInterface } from '../../site/index.ts';
import { AT } from './standIns.ts';

/** The addresses that follow from a machine's own routes. */
export const impliedFile = (stop: string, number: number, shown: readonly NetInterface[]): ReadFile => ({
  ...assumedFile(
    stop,
    number,
    shown.flatMap((i) => [
      {
        kind: 'interface',
        at: AT,
        name: i.name,
        adminUp: true,
        noNeighbours: i.noNeighbours,
        ...(i.carrier === null ? {} : { carrier: i.carrier }),
      },
      ...i.addresses.map(({ address, prefixLength: prefix, scope }): Fact => ({
        kind: 'address',
        at: AT,
        interface: i.name,
        family: address.family,
        address: formatAddress(address),
        prefix,
        scope,
      })),
    ]),
    ['addresses'],
  ),
  file: `implied/${stop}-${number}`,
});

/** The format of an address that nothing tells: what hangs on it is nothing that is wrong. */
export const INVENTED = 'invented';

export const assumedFile = (
  stop: string,
  number: number,
  facts: readonly Fact[],
  covers: ReadFile['covers'],
): ReadFile => ({
  file: `assumed/${stop}-${number}`,
  stop,
  format: 'assumed',
  facts,
  problems: [],
  at: null,
  typed: false,
  covers,
  shows: covers,
  ifWhole: covers,
  lines: 0,
});
