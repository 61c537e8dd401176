import { expect } from 'chai';
import { address, formatEndpoint, parseEndpoint, parsePrefix } from '../net/index.ts';
import { MOST_RANGE_CHOICES, type Question, type TranslationTarget } from '../rules/index.ts';
import { chooseTarget } from './translate.ts';

const QUESTION: Question = { key: 'range', need: { need: 'choice-of-range' }, settle: null };

/** What an endpoint becomes, with the answers that are given; and out of how many was asked. */
function chosen(at: string, target: Partial<TranslationTarget>, answer = 0, original = at) {
  const [current, first] = [parseEndpoint(at), parseEndpoint(original)];
  if (!current || !first) throw new Error(`no endpoint: ${at}`);
  const asked: number[] = [];
  const to = chooseTarget(current, first, { addresses: null, ports: null, ...target }, QUESTION, (q, n) => {
    expect(q).to.equal(QUESTION);
    asked.push(n);
    return answer;
  });
  return { to: to && formatEndpoint(to), asked };
}
const range = (first: string, last = first) => ({ first: address(first), last: address(last) });

describe('what a translation makes of an endpoint (nf_nat_core)', () => {
  it('leaves what it does not name', () => {
    expect(chosen('203.0.113.50:8214', {})).to.deep.equal({ to: '203.0.113.50:8214', asked: [] });
    const addresses = range('192.168.50.20');
    expect(chosen('203.0.113.50:8214', { addresses })).to.deep.equal({ to: '192.168.50.20:8214', asked: [] });
  });

  it('asks which address of a range it is', () => {
    const addresses = range('192.168.50.20', '192.168.50.22');
    expect(chosen('203.0.113.50:80', { addresses }, 0)).to.deep.equal({ to: '192.168.50.20:80', asked: [3] });
    expect(chosen('203.0.113.50:80', { addresses }, 2)).to.deep.equal({ to: '192.168.50.22:80', asked: [3] });
  });

  it('leaves a large range open', () => {
    const last = (n: number): string => `192.168.50.${n}`;
    const most = range(last(1), last(MOST_RANGE_CHOICES));
    expect(chosen('203.0.113.50:80', { addresses: most }).asked).to.deep.equal([MOST_RANGE_CHOICES]);
    const more = range(last(1), last(MOST_RANGE_CHOICES + 1));
    expect(chosen('203.0.113.50:80', { addresses: more })).to.deep.equal({ to: null, asked: [] });
  });

  it('keeps the host’s part where a prefix takes the place of another', () => {
    const prefix = parsePrefix('192.168.50.0/24');
    const to = { addresses: range('192.168.50.0'), prefix };
    expect(chosen('203.0.113.77:80', to)).to.deep.equal({ to: '192.168.50.77:80', asked: [] });
  });

  const ports: readonly (readonly [string, TranslationTarget['ports'], number, string])[] = [
    ['a port inside the range stays', { first: 8000, last: 8100, base: null }, 8050, '8050'],
    ['its first one stays', { first: 8000, last: 8100, base: null }, 8000, '8000'],
    ['its last one stays', { first: 8000, last: 8100, base: null }, 8100, '8100'],
    ['one before it becomes the first', { first: 8000, last: 8100, base: null }, 7999, '8000'],
    ['one behind it becomes the first', { first: 8000, last: 8100, base: null }, 8101, '8000'],
    ['with a base the distance is kept', { first: 9000, last: 9009, base: 8000 }, 8003, '9003'],
    ['and goes round at the end', { first: 9000, last: 9009, base: 8000 }, 8013, '9003'],
    // 7999 - 8000 in 16 bits is 65535, and 65535 mod 10 is 5.
    ['below the base it is long', { first: 9000, last: 9009, base: 8000 }, 7999, '9005'],
  ];
  for (const [title, target, port, expected] of ports)
    it(title, () => {
      expect(chosen(`203.0.113.50:${port}`, { ports: target }).to).to.equal(`203.0.113.50:${expected}`);
    });
});
