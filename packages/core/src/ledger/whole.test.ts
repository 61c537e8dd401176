import { expect } from 'chai';
import type { Fact } from '../facts/index.ts';
import { wholeCovers } from './whole.ts';

const SOCKET: Fact = {
  kind: 'socket',
  at: { line: 2 },
  protocol: 'tcp',
  family: 4,
  address: '0.0.0.0',
  port: 22,
  state: 'LISTEN',
  processes: [],
};
const listing = { covers: ['sockets-tcp', 'sockets-udp'] as const, facts: [SOCKET] };
const rules = { covers: ['rules4', 'rules6'] as const, facts: [] };

describe('the one judge of what a listing speaks for even where it shows nothing', () => {
  it('a list of sockets is whole by its command only: its form is the same when rows were picked', () => {
    expect(wholeCovers(listing, {})).to.deep.equal([]);
    expect(wholeCovers(listing, { command: 'ss -tulpn' })).to.deep.equal(['sockets-tcp', 'sockets-udp']);
    expect(wholeCovers(listing, { command: 'ss -tlnp' })).to.deep.equal(['sockets-tcp']);
    expect(wholeCovers(listing, { command: 'ss -tulpn | grep 80' })).to.deep.equal([]);
  });

  it('a heading with nothing below it is that of connections as well', () => {
    const empty = { ...listing, facts: [] };
    expect(wholeCovers(listing, { byForm: true })).to.deep.equal([...listing.covers]);
    expect(wholeCovers(empty, { byForm: true })).to.deep.equal([]);
    expect(wholeCovers(empty, { command: 'ss -tulpn' })).to.deep.equal([...listing.covers]);
    expect(wholeCovers(empty, { asked: 'host/sockets' })).to.deep.equal([...listing.covers]);
    expect(wholeCovers(empty, { whole: true })).to.deep.equal([...listing.covers]);
  });

  it('a ruleset shows by its form that it is whole', () => {
    expect(wholeCovers(rules, {})).to.deep.equal(['rules4', 'rules6']);
    expect(wholeCovers({ ...rules, gaps: ['cut'] }, {})).to.deep.equal([]);
  });

  it('a person’s word stands for what no form shows, not for what a command left out', () => {
    expect(wholeCovers({ ...listing, gaps: ['no-heading'] }, { whole: true })).to.deep.equal([
      ...listing.covers,
    ]);
    expect(wholeCovers(listing, { whole: true, command: 'ss -tulpn | grep 80' })).to.deep.equal([]);
    expect(wholeCovers({ ...listing, gaps: ['unread'] }, { whole: true })).to.deep.equal([]);
    expect(wholeCovers(rules, { part: true })).to.deep.equal([]);
  });

  it('the command in the paste itself comes before the one that was said', () => {
    expect(wholeCovers({ ...listing, command: 'ss -tlnp' }, { command: 'ss -tulpn' })).to.deep.equal([
      'sockets-tcp',
    ]);
  });
});
