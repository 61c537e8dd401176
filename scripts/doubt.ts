/**
 * Spoils evidence and looks whether a verdict becomes wrong: `npm run doubt -- [FOLDER …] [--seed N]
 * [--each K] [--show K] [--at-most N]`. Each folder holds case folders, or `cases/` with them; without
 * one the demo cases are taken, and `../shared` where it lies beside the checkout. For every way to spoil
 * a piece it prints how many decided verdicts were kept, turned unknown, or turned wrong. What a spoiled
 * piece may lead to is: the verdict that the whole evidence gives, or *unknown*. Exit status 0 only where
 * no more than `--at-most` (0) are wrong and nothing crashed.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { parseArgs } from 'node:util';
import type { CaseFolder } from '@bright-ferry/core/case';
import { evidenceEntries } from '@bright-ferry/core/case';
import { loadCase } from '../packages/cli/src/loadCase.ts';
import { packetFrom, traceCase } from '../packages/cli/src/traceCommand.ts';
import { SITUATIONS } from '../packages/web/src/testing/situations.ts';
import { situationCase } from './doubting/situationCase.ts';
import { pick, randomFrom } from './doubting/lots.ts';
import { MORE, SPOILS } from './doubting/spoils.ts';

interface Packet {
  readonly from: string;
  readonly to: string;
}
interface Known {
  readonly packet: ReturnType<typeof packetFrom>;
  readonly outcome: string;
  readonly text: string;
}

const decoder = new TextDecoder('utf-8', { fatal: true });
const encoder = new TextEncoder();
const SHARED = join(import.meta.dirname, '..', '..', 'shared');
const DEMO = join(import.meta.dirname, '..', 'packages', 'web', 'demo');

function packetsOf(folder: string, name: string): Packet[] {
  for (const path of [
    join(folder, '..', 'expected', `${name}.json`),
    join(folder, name, 'packets.json'),
    join(folder, '..', 'truth', `${name}.json`),
  ]) {
    if (!existsSync(path)) continue;
    const found = JSON.parse(readFileSync(path, 'utf8')) as { packets?: Packet[] } | Packet[];
    const list = Array.isArray(found) ? found : (found.packets ?? []);
    if (list.length > 0) return list.filter((p) => typeof p.from === 'string' && typeof p.to === 'string');
  }
  const { document } = loadCase(join(folder, name));
  const dials = document.client?.dials ?? '';
  const host = /^[\d.]+|^\[[^\]]+\]/.exec(dials)?.[0];
  return host === undefined
    ? []
    : (document.service?.endpoints ?? []).map((e) => ({
        from: `${document.client?.address ?? '192.0.2.254'}:40001`,
        to: `${host}:${e.port}/${e.protocol}`,
      }));
}

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    seed: { type: 'string', default: '1' },
    each: { type: 'string', default: '1' },
    share: { type: 'string', default: '1' },
    show: { type: 'string', default: '20' },
    'at-most': { type: 'string', default: '0' },
  },
});
const given =
  positionals.length > 0 ? positionals : [DEMO, join(SHARED, 'desk'), join(SHARED, 'oracle-sample')];
const folders = given
  .filter((f) => existsSync(f))
  .map((f) => (existsSync(join(f, 'cases')) ? join(f, 'cases') : f));
const random = randomFrom(Number(values.seed));
const each = Number(values.each);
const counts = new Map<string, { kept: number; unknown: number; wrong: number; crashed: number }>();
let shown = 0;

function outcomesOf(folder: CaseFolder, known: readonly Known[]): string[] {
  return traceCase(
    folder,
    known.map((k) => k.packet),
  ).documents.map((d) => `${d.outcome}\n${d.because.text}`);
}

const AROUND = 60;
/** The first place that a spoil changed, before and after. */
function changed(before: string, after: string): string {
  const [was, now] = [before.split('\n'), after.split('\n')];
  const at = was.findIndex((line, i) => line !== now[i]);
  const [from, to] = [was[at] ?? '', now[at] ?? ''];
  const same = Math.max(0, [...from].findIndex((c, i) => c !== to[i]) - AROUND);
  return at < 0
    ? ''
    : `:${at + 1} «${from.slice(same, same + 2 * AROUND)}» → «${to.slice(same, same + 2 * AROUND)}»`;
}

function judge(kind: string, name: string, folder: CaseFolder, known: readonly Known[], what: string): void {
  const count = counts.get(kind) ?? { kept: 0, unknown: 0, wrong: 0, crashed: 0 };
  counts.set(kind, count);
  let got: string[];
  try {
    got = outcomesOf(folder, known);
  } catch (error) {
    count.crashed++;
    if (shown++ < Number(values.show)) console.log(`CRASHED ${kind}: ${name}: ${String(error)}`);
    return;
  }
  known.forEach((k, i) => {
    const [outcome, text] = (got[i] ?? '').split('\n');
    if (outcome === k.outcome) count.kept++;
    else if (outcome === 'unknown') count.unknown++;
    else {
      count.wrong++;
      if (shown++ < Number(values.show))
        console.log(`WRONG ${kind}: ${name}${what}: was ${k.outcome} [${k.text}], now ${outcome} [${text}]`);
    }
  });
}

interface Case {
  readonly label: string;
  readonly load: () => { readonly whole: CaseFolder; readonly packets: readonly Packet[] };
}

const onDisk = folders.flatMap((folder) =>
  readdirSync(folder)
    .sort()
    .filter((name) => existsSync(join(folder, name, 'case.json')))
    .map((name): Case => ({
      label: `${basename(join(folder, '..'))}/${name}`,
      load: () => ({ whole: loadCase(join(folder, name)), packets: packetsOf(folder, name) }),
    })),
);
/** What people send, as the situations of the tests hold it. */
const told =
  positionals.length > 0
    ? []
    : SITUATIONS.map((s): Case => ({ label: s.title, load: () => situationCase(s) }));

for (const { label, load } of [...onDisk, ...told]) {
  if (random() > Number(values.share)) continue;
  let whole: CaseFolder;
  let known: Known[];
  try {
    const loaded = load();
    whole = loaded.whole;
    const packets = loaded.packets.map((p) => packetFrom(p.from, p.to, label));
    const { documents } = traceCase(whole, packets);
    known = packets.flatMap((packet, i) => {
      const d = documents[i];
      return d && d.outcome !== 'unknown' ? [{ packet, outcome: d.outcome, text: d.because.text }] : [];
    });
  } catch {
    continue;
  }
  if (known.length === 0) continue;
  // How a client's own machine sends is taken for granted where it is not known.
  const clients = new Set(whole.document.path.filter((s) => s.role === 'client').map((s) => s.id));
  const entries = evidenceEntries(whole);
  const spoilable = entries.filter((e) => !clients.has(e.stop));
  for (const [kind, spoil] of Object.entries(SPOILS))
    for (let n = 0; n < each; n++) {
      const entry = pick(spoilable, random);
      const bytes = entry && whole.files.get(entry.file);
      if (!entry || !bytes) continue;
      let text;
      try {
        text = decoder.decode(bytes);
      } catch {
        continue;
      }
      const spoilt = spoil({ text, entry }, random);
      if (!spoilt) continue;
      const evidence = entries.map((e) => (e.file === entry.file ? spoilt.entry : e));
      const folderNow = {
        document: { ...whole.document, evidence },
        files: new Map([...whole.files, [entry.file, encoder.encode(spoilt.text)]]),
      };
      judge(kind, label, folderNow, known, ` ${entry.file}${changed(text, spoilt.text)}`);
    }
  for (const [kind, more] of Object.entries(MORE)) {
    const now = more(whole, random);
    if (now) judge(kind, label, now, known, '');
  }
}

const width = Math.max(...[...counts.keys()].map((k) => k.length), 10) + 2;
console.log(
  `\n${'way'.padEnd(width)}${['kept', 'unknown', 'wrong', 'crashed'].map((k) => k.padStart(9)).join('')}`,
);
const total = { kept: 0, unknown: 0, wrong: 0, crashed: 0 };
for (const [kind, c] of counts) {
  for (const key of ['kept', 'unknown', 'wrong', 'crashed'] as const) total[key] += c[key];
  const columns = [c.kept, c.unknown, c.wrong, c.crashed].map((n) => String(n).padStart(9));
  console.log(`${kind.padEnd(width)}${columns.join('')}`);
}
console.log(
  `doubt: kept=${total.kept} unknown=${total.unknown} wrong=${total.wrong} crashed=${total.crashed}`,
);
process.exitCode = total.wrong > Number(values['at-most']) || total.crashed > 0 ? 1 : 0;
