import { expect } from 'chai';
import { address, type Endpoint } from '../net/index.ts';
import { captionText, type Caption } from './captions.ts';
import { doneWords } from './done.ts';
import { inSentence } from './named.ts';
import { whoseText } from './placing.ts';
import type { Verdict } from './verdict.ts';
import { verdictWords } from './verdicts.ts';

const endpoint = (text: string): Endpoint => {
  const [host, port] = text.split(':');
  return { address: address(host!), port: Number(port) };
};
const NAMES: Readonly<Record<string, string>> = {
  gateway: 'Second gateway',
  host: 'Heron',
  client: 'Client',
};
const names = (id: string | null): string => (id === null ? 'network' : (NAMES[id] ?? id));
const NO_ROUTE = { kind: 'no-route', destination: address('10.0.0.1') } as const;

describe('names inside a sentence', () => {
  it('takes an article for what describes a machine, and none for a name of its own', () => {
    const cases = [
      ['Second gateway', 'the second gateway'],
      ['Client', 'the client'],
      ['Heron', 'Heron'],
      ['North Hall', 'North Hall'],
      ['the-router', 'the-router'],
    ];
    for (const [name, said] of cases) expect(inSentence(name!)).to.equal(said);
  });
});

/** One of each kind: a verdict that is added has to stand here too. */
const VERDICTS: {
  readonly [K in Verdict['verdict']]: readonly [Verdict & { readonly verdict: K }, string, string];
} = {
  answered: [
    { verdict: 'answered', program: 'tidebook', stop: 'host', destination: endpoint('10.0.0.9:28410') },
    'Answered: tidebook on Heron takes 10.0.0.9:28410.',
    'The answer gets back to the client.',
  ],
  'not-known': [
    { verdict: 'not-known', need: null, ending: NO_ROUTE, stop: 'gateway', passed: 'gateway', cameTo: null },
    'Not known yet: the second gateway has no route to 10.0.0.1.',
    'As far as it is known, the packet gets past the second gateway.',
  ],
  captured: [
    {
      verdict: 'captured',
      stop: 'host',
      from: endpoint('198.51.100.23:1').address,
      served: { transport: 'tcp', port: 8214 },
      count: 3,
      died: 'not-answered',
    },
    'Lost at Heron: a capture there shows 3 packets from 198.51.100.23 to TCP 8214, and no answer.',
    'So far the client’s packets came: nothing before it is to blame. What keeps the answer back, its ' +
      'rules, its listeners and its routes would say.',
  ],
  'record-differs': [
    {
      verdict: 'record-differs',
      at: 'host',
      by: 'sessions',
      worked: { place: 'gateway', mend: null, ending: NO_ROUTE, stop: 'gateway' },
    },
    'Seen otherwise: the session table of Heron shows the client’s packets, and by what is known they ' +
      'end at the second gateway: the second gateway has no route to 10.0.0.1.',
    'One of the two is not true any more: ask for the newest listing of that place.',
  ],
  'kept-out': [
    {
      verdict: 'kept-out',
      stop: 'host',
      from: endpoint('198.51.100.97:1').address,
      served: { transport: 'tcp', port: 6697 },
      count: 3,
      last: '2026-11-24 17:02:11',
      insteadOf: endpoint('198.51.100.23:1').address,
    },
    'Not known yet: the log of Heron shows 3 packets from 198.51.100.97 to TCP 6697 kept out, the ' +
      'last at 2026-11-24 17:02:11.',
    'The client was said to be 198.51.100.23: whether this was the client’s try is to be settled.',
  ],
  lost: [
    {
      verdict: 'lost',
      place: 'gateway',
      mend: null,
      ending: NO_ROUTE,
      stop: 'gateway',
      pieces: 2,
      further: { then: 'not-known' },
    },
    'Lost at the second gateway: the second gateway has no route to 10.0.0.1.',
    'Sure, from 2 pieces of evidence. What comes after it is not known yet.',
  ],
  refused: [
    {
      verdict: 'refused',
      place: 'host',
      mend: null,
      ending: NO_ROUTE,
      stop: 'host',
      pieces: 1,
      further: { then: 'answered' },
    },
    'Refused at Heron: Heron has no route to 10.0.0.1.',
    'Sure, from one piece of evidence. With this mended the client gets its answer.',
  ],
  astray: [
    {
      verdict: 'astray',
      place: null,
      mend: null,
      ending: NO_ROUTE,
      stop: null,
      pieces: 0,
      further: { then: 'not-followed' },
    },
    'Astray: the network has no route to 10.0.0.1.',
    '',
  ],
  'no-such-name': [
    { verdict: 'no-such-name', name: 'tide.example' },
    'Ends at the name: tide.example does not exist.',
    'The record has to be created, or another name dialled.',
  ],
  'no-address': [
    { verdict: 'no-address', name: 'tide.example' },
    'Ends at the name: tide.example has no address.',
    'It needs an A or AAAA record.',
  ],
  'not-looked-up': [
    { verdict: 'not-looked-up', name: 'tide.example' },
    'Not known yet: tide.example has not been looked up.',
    'What it resolves to decides where the packet goes.',
  ],
  'nothing-dialled': [
    { verdict: 'nothing-dialled' },
    'Not known yet: nobody has said what the client dials, or on which port.',
    'One line of the complaint is enough to begin.',
  ],
  'works-since': [
    { verdict: 'works-since', title: 'row put right' },
    'Answered: seen to work since the change (row put right).',
    'The listing of what was changed, once more, keeps the case true.',
  ],
  'seen-otherwise': [
    { verdict: 'seen-otherwise', tried: 'lost', worked: 'answered' },
    'Seen otherwise: the try was lost, and by what is known it is answered.',
    'Something that was taken for granted does not hold, or was changed since it was listed.',
  ],
  'seen-to-work': [
    { verdict: 'seen-to-work', place: 'host', mend: null, ending: NO_ROUTE, stop: 'host' },
    'Seen to work; by what is known it cannot, at Heron: Heron has no route to 10.0.0.1.',
    'One of the two is not true any more: ask for the newest listing of that place.',
  ],
  held: [
    { verdict: 'held', titles: ['row put right', 'port opened'] },
    'Would be answered, once it is made as it was said.',
    'Held true since it was said to be made: row put right; port opened. ' +
      'A try, or the listing once more, decides. Let the client try.',
  ],
  changed: [
    { verdict: 'changed', stop: 'gateway', title: 'row put right' },
    'Not known yet, at the second gateway: it was changed after what is known of it was taken.',
    'Made: row put right. Let the client try again, and ask for the listing once more.',
  ],
};

describe('words of a verdict', () => {
  for (const [kind, [verdict, headline, detail]] of Object.entries(VERDICTS))
    it(`says ${kind}`, () => {
      const words = verdictWords(verdict, names, false);
      expect(words).to.include({ headline, detail });
      expect(headline.startsWith(words.word)).to.equal(true);
    });

  it('says that any client was taken, at the end', () => {
    expect(verdictWords({ verdict: 'nothing-dialled' }, names, true).detail).to.match(
      /begin\. The client’s address is not known; any outside client is taken\.$/,
    );
  });
});

describe('words under a gate', () => {
  it('says each kind, in two short lines at most', () => {
    const cases: readonly (readonly [Caption, string])[] = [
      [{ caption: 'address', address: address('192.0.2.7') }, '192.0.2.7'],
      [{ caption: 'address', address: null }, ''],
      [{ caption: 'ended', ending: NO_ROUTE, stop: 'host' }, 'Heron has no route to 10.0.0.1'],
      [{ caption: 'need', need: { need: 'routes', stop: 'host', family: 4 } }, 'open: its routes (IPv4)'],
      [{ caption: 'listens', address: null }, 'listens on all addresses'],
      [{ caption: 'forwards', to: endpoint('10.0.0.9:28410') }, 'forwards to 10.0.0.9:28410'],
      [{ caption: 'carries', toPublic: true }, 'carries it to a public address'],
      [{ caption: 'not-looked-up' }, 'not looked up'],
    ];
    for (const [caption, text] of cases) expect(captionText(caption, names)).to.equal(text);
    const long = captionText({ caption: 'rule', text: 'x'.repeat(200) }, names);
    expect(long).to.have.length(91).and.match(/…$/);
  });

  it('names whose a piece is by what is in it', () => {
    expect(whoseText({ by: 'same-address', address: '10.0.0.9', stop: 'host' }, names)).to.equal(
      'it holds 10.0.0.9, as Heron does',
    );
    expect(whoseText({ by: 'listener', program: null, port: 9 }, names)).to.equal(
      'a program listens on 9 there',
    );
    expect(whoseText({ by: 'forwarding', on: false }, names)).to.equal('it does not forward');
  });

  it('names the program to look at where all is open, or none', () => {
    expect(doneWords('try-again', 'tide book').text).to.match(/what tide book itself says\.$/);
    expect(doneWords('tell', null).title).to.equal('Tell what the client sees');
  });
});
