import { iptablesShell, shellWord } from '../asks/index.ts';
import { addressSet, formatAddress, formatPrefix, toPrefixes, type Prefix } from '../net/index.ts';
import { visitsOf, type Ending } from '../crossing/index.ts';
import type { Field, Rule, Step } from '../rules/index.ts';
import type { Mend } from './mend.ts';
import { audience, audienceText, endMachine, type MendContext } from './context.ts';
import { slipOf } from '../ledger/index.ts';
import { insertCommand } from './forward.ts';
import { replaceRule, withMachine, withRule } from './scene.ts';

type Filtered = Extract<Ending, { kind: 'rule' | 'policy' }>;

/** A filter dropped or refused the packet: correct the rule that nearly let it in, else add the smallest one that does. */
export function filterMend(c: MendContext, ending: Filtered): Mend | null {
  const machine = endMachine(c);
  if (!machine) return null;
  const near = nearMiss(c, ending);
  return near ? sourceMend(c, ending, near) : allowMend(c, ending);
}

/** An accepting rule of the hook that agrees in everything but the source. */
function nearMiss({ run, scene }: MendContext, ending: Filtered): { rule: Rule; allowed: Prefix[] } | null {
  const leg = run.legs.filter((l) => l.stop === run.stop && l.lane === run.direction).pop();
  const { transport } = scene.packet;
  if (!leg) return null;
  for (const { hook, visit } of visitsOf(leg)) {
    if (hook !== ending.hook || visit.hit || visit.missed?.field.of !== 'source') continue;
    const { rule } = visit;
    const accepts = rule.steps.some((s) => s.do === 'verdict' && s.verdict.verdict === 'accept');
    const onPort = rule.steps.some(
      (s) =>
        s.do === 'match' &&
        s.fields.some(
          (f) => f.of === 'dport' && (f.protocol === null || f.protocol === (transport === 'tcp' ? 6 : 17)),
        ) &&
        matchesPort(s, leg.before.destination.port),
    );
    const source = rule.steps.find(
      (s): s is Extract<Step, { do: 'match' }> =>
        s.do === 'match' && !s.negate && s.fields.length === 1 && s.fields[0]!.of === 'source',
    );
    if (!accepts || !onPort || !source) continue;
    const allowed = source.rows.flatMap((row) =>
      row[0]?.type === 'addresses' ? toPrefixes(row[0].set) : [],
    );
    return { rule, allowed };
  }
  return null;
}

const matchesPort = (step: Extract<Step, { do: 'match' }>, port: number): boolean =>
  step.rows.some((row) =>
    row.some((set) => set.type === 'numbers' && set.set.some((i) => port >= i.first && port <= i.last)),
  ) !== step.negate;

function sourceMend(
  c: MendContext,
  ending: Filtered,
  { rule, allowed }: { rule: Rule; allowed: Prefix[] },
): Mend {
  const stop = c.run.stop!;
  const client = c.scene.packet.source.address;
  const wanted = audience(c) ?? [];
  const typo = allowed.find((p) => slipOf(formatPrefix(p), formatAddress(client)) !== null);
  const to = typo ? [{ ...client, length: typo.length } as Prefix] : wanted;
  // A slip is put right; who was let in on purpose stays so.
  const set = to.length > 0 ? addressSet(...to, ...(typo ? [] : allowed)) : null;
  const { family } = client;
  const machine = endMachine(c)!;
  const digits = typo ? `, ${slipOf(formatPrefix(typo), formatAddress(client))!}` : '';
  return {
    fault: machine.role === 'edge' ? 'edge-source' : machine.role === 'host' ? 'host-scope' : 'fwd-source',
    stop,
    wrong: `its filter allows ${allowed.map(formatPrefix).join(', ')}${digits}, and the client is ${formatAddress(client)}`,
    title: typo ? `Correct the allowed source to ${formatAddress(client)}` : `Let ${audienceText(to)} in`,
    where: `${c.names(stop)}, chain ${ending.chain.name}, the rule “${rule.text}”`,
    values: [
      {
        label: 'Source',
        now: allowed.map(formatPrefix).join(', '),
        mended: set ? toPrefixes(set).map(formatPrefix).join(', ') : 'any',
      },
    ],
    commands: commandsFor(rule, ending, allowed, to, typo !== undefined),
    also: 'Write the rules to the file that is loaded at start, and note a date to look at the allowed addresses again.',
    opens: `${c.scene.packet.transport} ${c.scene.packet.destination.port} for ${audienceText(set ? to : null)}${typo ? `; no longer for ${allowed.map(formatPrefix).join(', ')}` : ''}`,
    evidence: rule.source ? [rule.source] : [],
    apply: (scene) =>
      withMachine(scene, stop, (m) => ({
        ...m,
        program: {
          ...m.program,
          [family]: replaceRule(m.program[family]!, rule.id, (r) => ({
            ...r,
            steps: r.steps.flatMap((s): Step[] =>
              s.do === 'match' && s.fields.length === 1 && s.fields[0]!.of === 'source'
                ? set
                  ? [{ ...s, rows: [[{ type: 'addresses', set }]] }]
                  : []
                : [s],
            ),
          })),
        },
      })),
  };
}

/** nft shows no rule number without `-a`, so the corrected rule is put in and the old one is looked up for removal. */
function commandsFor(
  rule: Rule,
  ending: Filtered,
  old: readonly Prefix[],
  next: readonly Prefix[],
  replaces: boolean,
): string[] {
  const was = old.map(formatPrefix)[0] ?? '';
  const iptables = /^(ip6?tables) (\w+)\/(.+)\/(\d+)$/.exec(rule.id);
  const names = next.map(formatPrefix);
  const wanted = names.length === 1 ? names[0]! : iptables ? names.join(',') : `{ ${names.join(', ')} }`;
  const text =
    names.length === 0
      ? rule.text.replace(/-s \S+ |ip6? saddr (?:\{[^}]*\}|\S+) /, '')
      : was === ''
        ? rule.text
        : rule.text.replace(was, wanted);
  if (iptables)
    return [
      `${iptables[1]} -t ${iptables[2]} ${replaces ? '-R' : '-I'} ${shellWord(iptables[3] ?? '')} ${iptables[4]} ${iptablesShell(text.replace(/^-A \S+ /, ''))}`,
    ];
  const nft = /^(\w+) ([^/]+)\/(.+)\/\d+$/.exec(rule.id);
  if (nft && !replaces) return [insertCommand(ending.chain, text)];
  const place = nft?.slice(1).map(shellWord).join(' ') ?? '';
  return nft
    ? [
        insertCommand(ending.chain, text),
        `nft -a list chain ${place}   # then: nft delete rule ${place} handle N of the old rule`,
      ]
    : [];
}

function allowMend(c: MendContext, ending: Filtered): Mend | null {
  const stop = c.run.stop!;
  const machine = endMachine(c)!;
  const leg = c.run.legs.filter((l) => l.stop === stop && l.lane === c.run.direction).pop();
  const header = leg?.after ?? c.scene.packet;
  const out = ending.hook === 'output' || c.run.direction === 'reply';
  const wanted = audience(c);
  const port = out ? header.source.port : header.destination.port;
  const text = ruleText(c, ending, header.source.address.family, wanted, port, out);
  const before = ending.kind === 'rule' ? ending.rule.id : null;
  const fault = out
    ? 'host-output-deny'
    : machine.role === 'host'
      ? ending.kind === 'rule' &&
        /drop|reject|DROP|REJECT/.test(ending.rule.text) &&
        ending.rule.steps.some((s) => s.do === 'match' && s.fields.some((f) => f.of === 'dport'))
        ? 'host-block-wins'
        : 'host-drop'
      : ending.hook === 'forward'
        ? ending.kind === 'rule'
          ? 'filter-order'
          : 'filter-missing'
        : machine.role === 'edge'
          ? 'edge-none'
          : 'filter-missing';
  const { family } = header.source.address;
  return {
    fault,
    stop,
    wrong:
      ending.kind === 'rule'
        ? `the rule “${ending.rule.text}” ends it`
        : `nothing in “${ending.chain.name}” lets ${c.scene.packet.transport.toUpperCase()} ${port} in`,
    title: `Allow ${c.scene.packet.transport.toUpperCase()} ${port} ${out ? 'out' : `from ${audienceText(wanted)}`}`,
    where: `${c.names(stop)}, chain ${ending.chain.name}${ending.kind === 'rule' ? ', above the rule that ends it' : ''}`,
    values: [{ label: 'Rule', now: null, mended: text }],
    commands: [chainCommand(ending, text)],
    also: 'Write the rules to the file that is loaded at start.',
    opens: out
      ? 'answers of this service'
      : `${c.scene.packet.transport} ${port} for ${audienceText(wanted)}`,
    evidence:
      ending.kind === 'rule' && ending.rule.source
        ? [ending.rule.source]
        : ending.chain.source
          ? [ending.chain.source]
          : [],
    apply: (scene) =>
      withMachine(scene, stop, (m) => ({
        ...m,
        program: {
          ...m.program,
          [family]: withRule(
            m.program[family]!,
            chainOf(ending, m.program[family]!),
            allowRule(c, wanted, port, out),
            before,
          ),
        },
      })),
  };
}

/** The deciding rule may stand in a chain that was jumped to; the allow rule goes right above it. */
function chainOf(
  ending: Filtered,
  program: NonNullable<ReturnType<typeof endMachine>>['program'][4] & object,
): string {
  if (ending.kind === 'policy') return ending.chain.id;
  return (
    program.chains.find((chain) => chain.rules.some((r) => r.id === ending.rule.id))?.id ?? ending.chain.id
  );
}

function allowRule(c: MendContext, wanted: readonly Prefix[] | null, port: number, out: boolean): Rule {
  const protocol = c.scene.packet.transport === 'tcp' ? 6 : 17;
  const { family } = c.scene.packet.source.address;
  const portField: Field = { of: out ? 'sport' : 'dport', protocol };
  const steps: Step[] = [
    {
      do: 'match',
      fields: [portField],
      rows: [[{ type: 'numbers', set: [{ first: port, last: port }] }]],
      negate: false,
    },
  ];
  if (wanted)
    steps.unshift({
      do: 'match',
      fields: [{ of: out ? 'destination' : 'source', family }],
      rows: [[{ type: 'addresses', set: addressSet(...wanted) }]],
      negate: false,
    });
  return {
    id: `mend/allow/${protocol}/${port}`,
    text: 'the mend',
    source: null,
    steps: [...steps, { do: 'verdict', verdict: { verdict: 'accept' } }],
  };
}

function ruleText(
  c: MendContext,
  ending: Filtered,
  family: 4 | 6,
  wanted: readonly Prefix[] | null,
  port: number,
  out: boolean,
): string {
  const { transport } = c.scene.packet;
  const prefixes = wanted?.map(formatPrefix) ?? [];
  if (/^ip6?tables /.test(ending.chain.id)) {
    const source = prefixes.length > 0 ? `-${out ? 'd' : 's'} ${prefixes.join(',')} ` : '';
    return `${source}-p ${transport} --${out ? 's' : 'd'}port ${port} -j ACCEPT`;
  }
  const source =
    prefixes.length === 0
      ? ''
      : `${family === 4 ? 'ip' : 'ip6'} ${out ? 'daddr' : 'saddr'} ${prefixes.length === 1 ? prefixes[0]! : `{ ${prefixes.join(', ')} }`} `;
  return `${source}${transport} ${out ? 'sport' : 'dport'} ${port} accept`;
}

function chainCommand(ending: Filtered, text: string): string {
  const iptables = /^(ip6?tables) (\w+)\/(.+)$/.exec(ending.chain.id);
  return iptables
    ? `${iptables[1]} -t ${iptables[2]} -I ${shellWord(iptables[3] ?? '')} ${iptablesShell(text)}`
    : insertCommand(ending.chain, text);
}
