import { expect } from 'chai';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import type { Site } from '../site/index.ts';
import { nftHost } from '../testing/index.ts';
import { traceAnyPort } from './index.ts';

/** The verdict on a client whose port is not told, and what would settle it. */
function told(site: Site, from = '198.51.100.23:40000') {
  const [source, target] = [parseEndpoint(from), parseTarget('198.51.100.9:80/tcp')];
  if (!source || !target) throw new Error('no packet');
  const { transport, address, port } = target;
  const found = traceAnyPort(site, { transport, source, destination: { address, port } });
  return [found.outcome, found.stop, ...found.needs.map((q) => q.need.need)].join(' ');
}

describe('a client whose own port is not told (RFC 6056)', () => {
  const table: readonly (readonly [string, string, 'accept' | 'drop', string])[] = [
    ['no rule looks at it', 'tcp dport 80 accept', 'drop', 'answered host'],
    ['a rule for some of its ports', 'tcp sport 32768-60999 accept', 'drop', 'unknown  sender-port'],
    ['a rule for one of them', 'tcp sport 50123 drop', 'accept', 'unknown  sender-port'],
    ['a rule for all of them', 'tcp sport 1024-65535 accept', 'drop', 'answered host'],
    ['a rule for all but the last', 'tcp sport 1024-65534 accept', 'drop', 'unknown  sender-port'],
    ['a rule for all but the first', 'tcp sport 1025-65535 accept', 'drop', 'unknown  sender-port'],
    // No client takes such a port by itself.
    ['a rule for ports below them', 'tcp sport 0-1023 drop', 'accept', 'answered host'],
    ['a rule that others end before', 'accept\n\t\ttcp sport 50123 drop', 'accept', 'answered host'],
  ];
  for (const [title, rules, policy, expected] of table)
    it(title, () => expect(told(nftHost(rules, { policy }))).to.equal(expected));

  it('what is not known anyway stays what it is', () => {
    const site = nftHost('tcp sport 50123 drop');
    const machines = site.machines.map((m) => (m.id === 'host' ? { ...m, sockets: null } : m));
    expect(told({ ...site, machines })).to.equal('unknown  listeners');
  });
});
