import { expect } from 'chai';
import { wholeCovers } from './whole.ts';

const listing = { covers: ['sockets-tcp', 'sockets-udp'] as const };
const rules = { covers: ['rules4', 'rules6'] as const };

describe('the one judge of what a listing speaks for even where it shows nothing', () => {
  it('a list of sockets is whole by its command only: its form is the same when rows were picked', () => {
    expect(wholeCovers(listing, {})).to.deep.equal([]);
    expect(wholeCovers(listing, { command: 'ss -tulpn' })).to.deep.equal(['sockets-tcp', 'sockets-udp']);
    expect(wholeCovers(listing, { command: 'ss -tlnp' })).to.deep.equal(['sockets-tcp']);
    expect(wholeCovers(listing, { command: 'ss -tulpn | grep 80' })).to.deep.equal([]);
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
