import { benchView, endpointKey } from '../bench/view.ts';
import type { BenchView } from '../bench/types.ts';
import type { CaseFacts } from '../../ledger/index.ts';

/** A part of the handover: prose, a list, or a table. */
export type HandoverBlock =
  | { readonly is: 'text'; readonly text: string }
  | { readonly is: 'list'; readonly items: readonly string[] }
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
              ['Dials', client?.dials ?? 'not known'],
              ['Sees', client?.symptom ?? 'not known'],
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
      ...(view.warnings.length > 0
        ? [{ heading: 'Too open', blocks: [{ is: 'list' as const, items: view.warnings }] }]
        : []),
      { heading: 'What to do', blocks: nextBlocks(view) },
      {
        heading: 'What it rests on',
        blocks: [
          {
            is: 'list',
            items: facts.files.map(
              (f) =>
                `${f.typed ? 'typed' : f.file} (${f.format ?? 'not understood'}, ${f.facts.length} facts${f.at ? `, ${f.at}` : ''})`,
            ),
          },
        ],
      },
      { heading: 'Made', blocks: [{ is: 'text', text: `With Bright Ferry, ${now}.` }] },
    ],
  };
}

function nextBlocks(view: BenchView): HandoverBlock[] {
  const { next } = view;
  if (next.kind === 'done') return [{ is: 'text', text: `${next.title}. ${next.text}` }];
  if (next.kind === 'check')
    return [
      { is: 'text', text: `Ask for: ${next.words.title}. ${next.why}` },
      { is: 'list', items: next.words.commands.map((c) => `${c.label}: ${c.text}`) },
    ];
  const m = next.mend;
  return [
    { is: 'text', text: `${m.title} (${m.where}).` },
    {
      is: 'table',
      head: ['Value', 'Now', 'Mended'],
      rows: m.values.map((v) => [v.label, v.now ?? '–', v.mended]),
    },
    ...(m.commands.length > 0 ? [{ is: 'list' as const, items: m.commands }] : []),
    ...(m.also ? [{ is: 'text' as const, text: m.also }] : []),
    { is: 'text', text: `What this opens: ${m.opens}.` },
    ...(m.then.length > 0
      ? [{ is: 'list' as const, items: m.then.map((t) => `Then, ${t.stop}: ${t.text}`) }]
      : []),
  ];
}

/** The handover as Markdown (CommonMark, with pipe tables). */
export function handoverMarkdown({ title, sections }: Handover): string {
  const cell = (text: string): string => text.replaceAll('|', '\\|').replaceAll('\n', ' ');
  const block = (b: HandoverBlock): string => {
    if (b.is === 'text') return b.text;
    if (b.is === 'list') return b.items.map((i) => `- ${i}`).join('\n');
    return [
      `| ${b.head.map(cell).join(' | ')} |`,
      `|${b.head.map(() => ' --- ').join('|')}|`,
      ...b.rows.map((r) => `| ${r.map(cell).join(' | ')} |`),
    ].join('\n');
  };
  return `# ${title}\n\n${sections.map((s) => `## ${s.heading}\n\n${s.blocks.map(block).join('\n\n')}`).join('\n\n')}\n`;
}
