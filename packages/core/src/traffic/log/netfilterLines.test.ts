import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import fc from 'fast-check';
import * as at from './netfilterLines.ts';
import { MADE_FROM } from './netfilterLines.wasm.ts';

const SOURCE = new URL('../../../wasm/netfilterLines.ts', import.meta.url);

/** What a line says, as the machine code finds it and as a plain search does. */
interface Told {
  readonly line: string;
  readonly kind: number;
  readonly source: string;
  readonly destination: string;
  readonly protocol: string;
  readonly ports: readonly number[];
}

const NOTHING = { kind: 0, source: '', destination: '', protocol: '', ports: [0, 0] };

function found(text: string): Told[] {
  const lines = new at.NetfilterLines();
  const bytes = new TextEncoder().encode(text);
  const out: Told[] = [];
  const words = (from: number, end: number): string =>
    from === 0 ? '' : new TextDecoder().decode(lines.text.slice(from, end));
  const wordAt = (from: number): string => words(from, lines.text.indexOf(10, from)).split(' ')[0] ?? '';
  for (let rest = 0; rest < bytes.length;) {
    rest = lines.load(bytes, rest, bytes.length);
    for (let count = lines.next(); count > 0; count = lines.next())
      for (let i = 0; i < count; i++) {
        const r = [...lines.records.slice(i * lines.width, (i + 1) * lines.width)];
        const of = (place: number): number => r[place] ?? NaN;
        const line = words(of(at.LINE), of(at.END));
        const kind = of(at.SOURCE_KIND);
        if (of(at.FIELDS) === 0) out.push({ ...NOTHING, line, kind });
        else
          out.push({
            line,
            kind: kind === at.PART ? 0 : kind,
            source: sourceOf(kind, of(at.SOURCE), wordAt),
            destination: wordAt(of(at.DESTINATION)),
            protocol: words(of(at.PROTOCOL), of(at.PROTOCOL_END)),
            ports: [of(at.SOURCE_PORT), of(at.PORT)],
          });
      }
  }
  return out;
}

function sourceOf(kind: number, source: number, wordAt: (from: number) => string): string {
  if (kind === at.OTHER_SOURCE) return wordAt(source);
  if (kind !== at.IPV4) return '';
  return [24, 16, 8, 0].map((shift) => (source >>> shift) & 255).join('.');
}

/** The same by searching for words. */
function searched(line: string): Told {
  const from = line.indexOf('IN=');
  if (from < 0) return { ...NOTHING, line, kind: line.includes('SRC=') ? at.PART : 0 };
  const fields = line.slice(from).split(' ').slice(1);
  const first = (name: string): string | null =>
    fields.find((f) => f.startsWith(`${name}=`))?.slice(name.length + 1) ?? null;
  const port = (name: string): number => {
    const value = first(name);
    if (value === null) return 0;
    const digits = /^\d+/.exec(value)?.[0];
    return digits === undefined || Number(digits) > 65535 ? -1 : Number(digits);
  };
  const source = first('SRC');
  const octets = /^\d+\.\d+\.\d+\.\d+$/.test(source ?? '') ? (source ?? '').split('.').map(Number) : null;
  const isIpv4 = octets !== null && octets.every((o) => o < 256);
  return {
    line,
    kind: kindOf(source, isIpv4),
    source: isIpv4 ? octets.join('.') : (source ?? ''),
    destination: first('DST') ?? '',
    protocol: first('PROTO') ?? '',
    ports: [port('SPT'), port('DPT')],
  };
}

function kindOf(source: string | null, isIpv4: boolean): number {
  if (source === null) return 0;
  return isIpv4 ? at.IPV4 : at.OTHER_SOURCE;
}

const word = fc.constantFrom(
  ...[
    'Nov',
    'plover',
    'kernel:',
    'IN=eth0',
    'WAN-DENY:IN=eth0',
    'OUT=',
    'TTL=62',
    'PREC=0x00',
    'DF',
    '=',
    'a=b',
  ],
  ...['SRC=198.51.100.23', 'SRC=2001:db8::17', 'SRC=256.1.1.1', 'SRC=1.2.3', '[SRC=192.168.50.20', 'SRC='],
  ...[
    'DST=203.0.113.50',
    'PROTO=TCP',
    'PROTO=132',
    'SPT=40001',
    'DPT=8211',
    'DPT=65536',
    'DPT=0',
    'SPT=',
    '',
  ],
);
const line = fc.array(word, { maxLength: 16 }).map((words) => `${words.join(' ')} `);

describe('the fields of a system log, found by machine code', () => {
  it('are those that a plain search finds, wherever a line begins and ends', () =>
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 40 }), (lines) => {
        expect(found(`${lines.join('\n')}\n`)).to.deep.equal(lines.map(searched));
      }),
      { numRuns: 300 },
    ));

  it('come in as many calls as there are lines for, and none twice', () => {
    const lines = Array.from({ length: 30_000 }, (_, i) => (i % 7 === 0 ? '' : `IN=eth0 DPT=${i}`));
    expect(found(`${lines.join('\n')}\n`).map((f) => f.line)).to.deep.equal(lines);
  });

  it('are read of a line without end, up to a quarter of a megabyte, and of the lines behind it', () => {
    const long = `IN=eth0 SRC=198.51.100.23 DST=203.0.113.50 PROTO=UDP DPT=53 ${'x'.repeat(600_000)}`;
    const last = 'IN=eth0 SRC=198.51.100.24 DST=203.0.113.50 PROTO=UDP DPT=54 ';
    const [first, second, ...more] = found(`${long}\n${last}\n`);
    expect(first?.line).to.equal(long.slice(0, (1 << 18) - 1));
    expect([first?.source, first?.ports[1]]).to.deep.equal(['198.51.100.23', 53]);
    expect(second).to.deep.equal(searched(last));
    expect(more).to.deep.equal([]);
  });

  it('are found by the code that was made from the text beside it (`npm run wasm`)', () => {
    // The tester of mutants writes a line of its own into every text.
    const text = readFileSync(SOURCE, 'utf8').replace('// @ts-nocheck\n', '');
    expect(MADE_FROM).to.equal(createHash('sha256').update(text).digest('hex'));
  });
});
