/**
 * Runs cases with known outcomes through the very code of the command line, in one process, and compares each
 * packet: `npm run expected -- FOLDER [--only BEGINNING,…] [--show K]`. The folder holds
 * `cases/<name>/` and `expected/<name>.json`: `{ "packets": [ { "from", "to", "accept", "stop", "why" } ],
 * "settingsRefused" }`. Exit status 0 only where no outcome is wrong and nothing crashed.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { CaseError } from '@bright-ferry/core/case';
import { loadCase } from '../packages/cli/src/loadCase.ts';
import { packetFrom, traceCase } from '../packages/cli/src/traceCommand.ts';

interface Expected {
  readonly packets: readonly {
    readonly from: string;
    readonly to: string;
    readonly accept: readonly string[];
    readonly stop: string | null;
    readonly why: string;
  }[];
  readonly settingsRefused: boolean | 'allowed';
}

const KINDS = ['packets', 'right', 'openOk', 'openAvoidable', 'wrong', 'crashed', 'stopWrong'] as const;
type Kind = (typeof KINDS)[number];
type Counts = Record<Kind, number>;
const none = (): Counts => ({
  packets: 0,
  right: 0,
  openOk: 0,
  openAvoidable: 0,
  wrong: 0,
  crashed: 0,
  stopWrong: 0,
});

interface Judged {
  readonly kinds: readonly Kind[];
  readonly line: string | null;
}

function judge(folder: string, name: string): Judged[] {
  const expected = JSON.parse(readFileSync(join(folder, 'expected', `${name}.json`), 'utf8')) as Expected;
  let documents;
  try {
    const packets = expected.packets.map((p, i) => packetFrom(p.from, p.to, `${name}: packet ${i + 1}`));
    ({ documents } = traceCase(loadCase(join(folder, 'cases', name)), packets));
  } catch (error) {
    if (error instanceof CaseError && expected.settingsRefused !== false)
      return expected.packets.map(() => ({ kinds: ['right'], line: null }));
    const text = error instanceof Error ? (error.stack ?? error.message) : String(error);
    return expected.packets.map(() => ({ kinds: ['crashed'], line: `CRASHED ${name}: ${text}` }));
  }
  return expected.packets.map((packet, i): Judged => {
    const { outcome, stop, because } = documents[i]!;
    const wanted = expected.settingsRefused === true ? 'a refusal' : packet.accept.join(' or ');
    const line =
      `${name} ${packet.from} > ${packet.to}: got ${outcome}${stop ? ` at ${stop}` : ''}, wanted ${wanted}` +
      `${packet.stop ? ` (stop ${packet.stop})` : ''}. ${packet.why} [${because.text}]`;
    if (outcome === 'unknown')
      return packet.accept.includes('unknown')
        ? { kinds: ['openOk'], line: null }
        : { kinds: ['openAvoidable'], line: `open    ${line}` };
    if (!packet.accept.includes(outcome)) return { kinds: ['wrong'], line: `WRONG   ${line}` };
    return packet.stop && packet.stop !== stop
      ? { kinds: ['right', 'stopWrong'], line: `stop    ${line}` }
      : { kinds: ['right'], line: null };
  });
}

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { only: { type: 'string', default: '' }, show: { type: 'string', default: '40' } },
});
const [folder] = positionals;
if (folder === undefined) {
  console.error('usage: npm run expected -- FOLDER [--only BEGINNING,…] [--show K]');
  process.exit(2);
}
const only = values.only.split(',').filter((o) => o !== '');
const names = readdirSync(join(folder, 'expected'))
  .map((n) => n.replace(/\.json$/, ''))
  .filter((n) => only.length === 0 || only.some((o) => n.startsWith(o)))
  .sort();
const groups = new Map<string, Counts>();
const total = none();
let shown = 0;
for (const name of names) {
  const group = name.split('-')[0]!;
  const counts = groups.get(group) ?? none();
  groups.set(group, counts);
  for (const { kinds, line } of judge(folder, name)) {
    for (const kind of ['packets', ...kinds] as const) {
      counts[kind]++;
      total[kind]++;
    }
    if (line && shown++ < Number(values.show)) console.log(line);
  }
}
console.log(`\n${'group'.padEnd(12)}${KINDS.map((k) => k.padStart(14)).join('')}`);
for (const [group, counts] of [...groups, ['total', total] as const])
  console.log(`${group.padEnd(12)}${KINDS.map((k) => String(counts[k]).padStart(14)).join('')}`);
console.log(
  `desk: packets=${total.packets} right=${total.right} openOk=${total.openOk} ` +
    `openAvoidable=${total.openAvoidable} wrong=${total.wrong} crashed=${total.crashed}`,
);
process.exitCode = total.wrong + total.crashed > 0 ? 1 : 0;
