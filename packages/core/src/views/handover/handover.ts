import { endpointKey } from '../bench/endpoints.ts';
import { benchView } from '../bench/view.ts';
import type { BenchView } from '../bench/types.ts';
import type { Observation } from '../../case/index.ts';
import { formOf, formValues } from '../../devices/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { afterwardsText, deviceRowText, observationText, SYMPTOM_WORDS } from '../../words/index.ts';
import { afterwards } from './afterwards.ts';
import { day } from './day.ts';
import { formatTitle } from '../bench/formats.ts';
import { stopNames } from '../bench/names.ts';
import { openingsView } from '../openings/openings.ts';

/** A part of the handover: prose, a list, lines to be typed, or a table. */
export type HandoverBlock =
  | { readonly is: 'text'; readonly text: string }
  | { readonly is: 'list'; readonly items: readonly string[] }
  /** Lines to be typed as they are. */
  | { readonly is: 'code'; readonly text: string }
  | { readonly is: 'table'; readonly head: readonly string[]; readonly rows: readonly (readonly string[])[] };

export interface Handover {
  readonly title: string;
  readonly sections: readonly { readonly heading: string; readonly blocks: readonly HandoverBlock[] }[];
}

/** Tells the story of a case: what was heard, what was found, what to do, and what it rests on. */
export function handover(facts: CaseFacts, now: string): Handover {
  const { service, client, title } = facts.document;
  const views = (service?.endpoints ?? []).map((e) => ({
    endpoint: e,
    view: benchView(facts, endpointKey(e)),
  }));
  const main = views.find((v) => v.view.verdict.lamp === 'shut') ?? views[0];
  const view = main?.view ?? benchView(facts);
  return {
    title,
    sections: [
      {
        heading: 'Verdict',
        blocks: [
          { is: 'text', text: view.verdict.headline },
          { is: 'text', text: view.verdict.detail },
          ...(views.length > 1
            ? [
                {
                  is: 'list' as const,
                  items: views.map(
                    ({ endpoint, view: v }) => `${endpoint.protocol} ${endpoint.port}: ${v.verdict.headline}`,
                  ),
                },
              ]
            : []),
        ].filter((b) => b.is !== 'text' || b.text !== '') as HandoverBlock[],
      },
      {
        heading: 'What was heard',
        blocks: [
          {
            is: 'table',
            head: ['', ''],
            rows: [
              ['Service', view.serviceLine],
              ['Client', client?.address ?? 'not known'],
              ['Dials', [client?.dials ?? 'not known', ...(client?.alsoDials ?? [])].join(', ')],
              ['Sees', SYMPTOM_WORDS[client?.symptom ?? 'unknown']],
              ['Meant for', audienceText(facts)],
              ['Says', client?.says ?? ''],
            ].filter((r) => r[1] !== ''),
          },
        ],
      },
      {
        heading: 'The crossing',
        blocks: [
          {
            is: 'table',
            head: ['Stop', 'State', 'Why'],
            rows: view.crossing.stops.map((s) => [s.name, s.word, s.caption]),
          },
        ],
      },
      ...section('The next connection', list(view.afterwards ? [`${view.afterwards.text}.`] : [])),
      ...(view.warnings.length > 0
        ? [{ heading: 'Too open', blocks: [{ is: 'list' as const, items: view.warnings }] }]
        : []),
      { heading: 'What to do', blocks: nextBlocks(view) },
      ...ownerSection(view),
      ...section('Changes made', changeBlocks(facts)),
      ...section('What was seen', list((facts.document.observations ?? []).map(seenText))),
      ...section('Still to do', list(afterwards(facts).map((a) => afterwardsText(a, stopNames(facts))))),
      ...section('Filled in by hand', handBlocks(facts)),
      ...section('Open from outside', openBlocks(facts)),
      {
        heading: 'What it rests on',
        blocks: [
          {
            is: 'list',
            items: facts.files.map(pieceText),
          },
        ],
      },
      { heading: 'Written', blocks: [{ is: 'text', text: `With Bright Ferry, ${now}.` }] },
    ],
  };
}

function pieceText({ typed, file, format, facts, at }: CaseFacts['files'][number]): string {
  const when = at ? `, ${day(at)}` : '';
  return `${typed ? 'typed' : file}: ${formatTitle(format)}, ${facts.length} facts${when}`;
}

type Section = Handover['sections'][number];

/** A section, where there is something in it. */
const section = (heading: string, blocks: readonly HandoverBlock[]): Section[] =>
  blocks.length > 0 ? [{ heading, blocks }] : [];

const list = (items: readonly string[]): HandoverBlock[] => (items.length > 0 ? [{ is: 'list', items }] : []);

/** A day and an hour that everybody reads alike. @param at RFC 3339 */

function audienceText(facts: CaseFacts): string {
  const { audience } = facts.document.service ?? {};
  return Array.isArray(audience) ? audience.join(', ') : (audience ?? '').toString();
}

/** The mend in the words of the owner: in one line, in three, and whole. */
function ownerSection({ next }: BenchView): Section[] {
  if (next.kind !== 'mend') return [];
  const { mend } = next;
  const changes = mend.values.map((v) => `${v.label} ${v.now === null ? '' : `${v.now} → `}${v.mended}`);
  return section('For the owner', [
    { is: 'text', text: `${mend.title}.` },
    { is: 'text', text: `${mend.title}: ${[mend.where, ...changes].join('; ')}.` },
    { is: 'code', text: mend.message },
  ]);
}

const changeBlocks = (facts: CaseFacts): HandoverBlock[] => {
  const rows = (facts.document.changes ?? []).map((c) => [day(c.at), stopNames(facts)(c.stop), c.title]);
  return rows.length > 0 ? [{ is: 'table', head: ['When', 'Where', 'What'], rows }] : [];
};

const seenText = (o: Observation): string => `${o.at ? `${day(o.at)} ` : ''}${observationText(o)}`;

/** What nobody printed: rows of devices as somebody filled them in. */
function handBlocks(facts: CaseFacts): HandoverBlock[] {
  const names = stopNames(facts);
  return facts.document.path.flatMap(({ id, settings }): HandoverBlock[] => {
    if (!settings) return [];
    const spec = formOf(settings.kind);
    const { fields, tables } = formValues(spec, settings);
    const items = [
      ...spec.tables.flatMap((t) => (tables[t.key] ?? []).map((r) => deviceRowText(settings.kind, t.key, r))),
      ...spec.fields.flatMap((f) => (fields[f.key] ? [`${f.label}: ${fields[f.key]}`] : [])),
    ];
    return [{ is: 'text', text: `${names(id)}: ${spec.title}` }, ...list(items)];
  });
}

/** What outside senders reach, what nobody asked for first. */
function openBlocks(facts: CaseFacts): HandoverBlock[] {
  const { rows, refused } = openingsView(facts, stopNames(facts));
  if (refused !== null) return [{ is: 'text', text: refused }];
  if (rows.length === 0) return [];
  return [
    {
      is: 'table',
      head: ['What', 'Ports', 'From', ''],
      rows: rows.map((r) => [r.listener, r.ports, r.sources, r.asked ? 'asked for' : 'not asked for']),
    },
  ];
}

const later = (view: BenchView): HandoverBlock[] => list(view.later.map((l) => `Then: ${l.title}`));

const code = (lines: readonly string[]): HandoverBlock[] =>
  lines.length > 0 ? [{ is: 'code', text: lines.join('\n') }] : [];

function nextBlocks(view: BenchView): HandoverBlock[] {
  const { next } = view;
  if (next.kind === 'done') return [{ is: 'text', text: `${next.title}. ${next.text}` }];
  if (next.kind === 'check')
    return [
      { is: 'text', text: `Ask for: ${next.words.title}. ${next.why}` },
      { is: 'list', items: next.words.commands.map((c) => `${c.label}: ${c.text}`) },
      ...later(view),
    ];
  const m = next.mend;
  return [
    { is: 'text', text: `${m.title} (${m.where}).` },
    {
      is: 'table',
      head: ['Value', 'Now', 'Mended'],
      rows: m.values.map((v) => [v.label, v.now ?? '–', v.mended]),
    },
    ...code(m.commands),
    ...(m.undo.length > 0 ? [{ is: 'text' as const, text: 'To take it back:' }] : []),
    ...code(m.undo),
    ...(m.also ? [{ is: 'text' as const, text: m.also }] : []),
    { is: 'text', text: `What this opens: ${m.opens}.` },
    ...(m.then.length > 0
      ? [{ is: 'list' as const, items: m.then.map((t) => `Then, ${t.stop}: ${t.text}`) }]
      : []),
  ];
}
