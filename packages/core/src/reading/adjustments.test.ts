import { expect } from 'chai';
import { forwardLines } from '../testing/index.ts';
import { strToU8 } from 'fflate';
import { CaseError, checkCaseDocument, type EvidenceEntry } from '../case/index.ts';
import { readCase } from '../ledger/index.ts';
import { buildSite } from '../model/index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const documentWith = (entry: Partial<EvidenceEntry>, stop: string) =>
  checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 't',
    path: PATH,
    evidence: [{ stop, file: `evidence/${stop}/a.txt`, ...entry }],
  });
const factsWith = (text: string, entry: Partial<EvidenceEntry>, stop = 'gateway') =>
  readCase({
    document: documentWith(entry, stop),
    files: new Map([[`evidence/${stop}/a.txt`, strToU8(text)]]),
  });

describe('what a person has put right in a piece of evidence', () => {
  it('only a part of a listing: what it does not show is open', () => {
    const SOCKETS =
      'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
      'tcp LISTEN 0 16 0.0.0.0:22 0.0.0.0:*\n';
    const complete = (entry: Partial<EvidenceEntry>) =>
      buildSite(factsWith(SOCKETS, entry, 'host')).machines.find((m) => m.id === 'host')!.presumed
        .socketsComplete.tcp;
    expect(complete({}), 'a heading alone proves nothing').to.equal(false);
    expect(complete({ whole: true })).to.equal(true);
    expect(complete({ command: 'ss -tulpn' })).to.equal(true);
    expect(complete({ command: "ss -tulpn 'sport = :22'" })).to.equal(false);
    expect(complete({ command: 'ss -ulpn' })).to.equal(false);
    expect(complete({ part: true })).to.equal(false);
  });

  it('characters: the corrected value counts, in its place', () => {
    const [fact] = factsWith('WAN IP 203.O.113.5O\n', {
      corrections: [{ line: 1, from: '203.O.113.5O', to: '203.0.113.50' }],
    }).files[0]!.facts;
    expect(fact).to.deep.include({
      kind: 'labelled',
      value: '203.0.113.50',
      at: { line: 1, column: 7, endColumn: 19 },
    });
    expect(factsWith('WAN IP 203.O.113.5O\n', {}).files[0]!.facts).to.deep.equal([]);
  });

  it('columns of a table', () => {
    const facts = factsWith('reef\t30000\t28410\t192.168.50.20\tUDP\n', {
      columns: { table: 'forwards', roles: ['name', 'inside', 'outside', 'inside-address', 'protocol'] },
    }).files[0]!;
    expect(forwardLines(facts.facts)).to.deep.equal(['udp 28410 → 192.168.50.20:30000']);
    expect([facts.shows, facts.covers], 'without a heading it is not whole').to.deep.equal([
      ['forwards'],
      [],
    ]);
  });

  it('is checked with the case', () => {
    expect(() => documentWith({ corrections: [{ line: 1, from: 'a', to: 'bc' }] }, 'host')).to.throw(
      CaseError,
      'as long as',
    );
    expect(() => documentWith({ columns: { table: 'birds' as 'forwards', roles: [] } }, 'host')).to.throw(
      CaseError,
    );
  });
});
