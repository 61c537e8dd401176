import type { CaseFacts } from '../ledger/index.ts';
import { parseAddress, parseEndpoint, parseTarget } from '../net/index.ts';
import type { Site } from '../site/index.ts';

/**
 * What people saw when they tried, as far as it still holds: a try from before the newest evidence may
 * have been mended since.
 */
export function triesOf({ document, files }: CaseFacts): NonNullable<Site['tries']> {
  const newest = Math.max(...files.map((f) => (f.at === null ? -Infinity : Date.parse(f.at))), -Infinity);
  return (document.observations ?? []).flatMap(({ vantage, from, to, outcome, at, other }) => {
    const target = parseTarget(to);
    // That something answers says nothing about the service.
    if (!target || other || (at !== undefined && Date.parse(at) < newest)) return [];
    const isClient = vantage === 'client' || vantage === 'client-by-name';
    const sender = from ?? (isClient ? document.client?.address : undefined);
    const source = sender === undefined ? null : (parseEndpoint(sender, 0)?.address ?? parseAddress(sender));
    if (!source) return [];
    return [
      {
        source,
        destination: { address: target.address, port: target.port },
        transport: target.transport,
        outcome,
      },
    ];
  });
}
