import type { FaultId } from '../faults/index.ts';
import { nftShell, shellWord } from '../asks/index.ts';
import { rowText, type ForwardRow } from '../devices/index.ts';
import { factsOf, slipOf } from '../ledger/index.ts';
import {
  addressSet,
  formatAddress,
  hasAddress,
  parseAddress,
  sameAddress,
  type Address,
} from '../net/index.ts';
import type { Chain, Program, Rule } from '../rules/index.ts';
import type { Mend } from './mend.ts';
import { audience, audienceText, endMachine, targetOf, type MendContext } from './context.ts';
import { replaceRule, withMachine, withRows, withRule, type Scene } from './scene.ts';

/** The packet reached the gateway's own address and no live forward took it: what is wrong with the table. */
export function missingForward(c: MendContext): Mend | null {
  const machine = endMachine(c);
  if (!machine) return null;
  const target = targetOf(c, machine);
  if (target?.machine === machine) return null;
  const rows = c.scene.rows.get(machine.id);
  if (rows && (machine.presumed.kind === 'box' || !usesOwnFilter(c, machine.id)))
    return rowMend(c, machine.id, rows, target?.address ?? null);
  return target ? translationMend(c, machine.id, target.address) : null;
}

const usesOwnFilter = (c: MendContext, stop: string): boolean =>
  c.facts.files.some((f) => f.stop === stop && (f.covers.includes('rules4') || f.covers.includes('rules6')));

function rowMend(c: MendContext, stop: string, rows: readonly ForwardRow[], server: Address | null): Mend {
  const { transport, destination, source } = c.scene.packet;
  const { port } = destination;
  const at = names(c, stop);
  const base = {
    stop,
    where: `${at}, table of port forwards`,
    commands: [],
    also: 'Save and apply the page, then look at the table again.',
    opens: `${transport} ${port} of the server for anyone`,
    evidence: [],
  };
  const speaks = (row: ForwardRow): boolean => row.protocol === 'both' || row.protocol === transport;
  const holds = (row: ForwardRow): boolean => port >= row.outside.first && port <= row.outside.last;
  const replace =
    (row: ForwardRow, change: Partial<ForwardRow>): Mend['apply'] =>
    (scene) =>
      withRows(
        scene,
        stop,
        rows.map((r) => (r === row ? { ...r, ...change } : r)),
      );
  const evidence = (row: ForwardRow) => (row.source ? [row.source] : []);
  const off = rows.find((r) => holds(r) && speaks(r) && !r.enabled);
  if (off)
    return {
      ...base,
      fault: 'fwd-disabled',
      wrong: `the forward for ${rowText(off)} is switched off`,
      title: `Switch on the forward for ${rowText(off)}`,
      values: [{ label: 'Enabled', now: 'off', mended: 'on' }],
      evidence: evidence(off),
      apply: replace(off, { enabled: true }),
    };
  const staged = rows.find((r) => holds(r) && speaks(r) && r.applied === false);
  if (staged)
    return {
      ...base,
      fault: 'fwd-not-applied',
      wrong: `the forward for ${rowText(staged)} was entered and never applied`,
      title: 'Apply the forward table',
      values: [{ label: 'State', now: 'not applied', mended: 'applied' }],
      evidence: evidence(staged),
      apply: replace(staged, { applied: true }),
    };
  const barred = rows.find(
    (r) =>
      holds(r) && speaks(r) && r.sources !== null && !hasAddress(addressSet(...r.sources), source.address),
  );
  if (barred) {
    const wanted = audience(c);
    return {
      ...base,
      fault: 'fwd-source',
      wrong: `the forward for ${rowText(barred)} is for ${audienceText(barred.sources)}, and the client is ${formatAddress(source.address)}`,
      title: `Let ${audienceText(wanted)} use the forward`,
      values: [{ label: 'Allowed source', now: audienceText(barred.sources), mended: audienceText(wanted) }],
      opens: `${transport} ${port} of the server for ${audienceText(wanted)}`,
      evidence: evidence(barred),
      apply: replace(barred, { sources: wanted }),
    };
  }
  const otherProtocol = rows.find((r) => holds(r) && !speaks(r));
  if (otherProtocol)
    return {
      ...base,
      fault: 'fwd-protocol',
      wrong: `the forward for port ${port} is for ${otherProtocol.protocol.toUpperCase()} only, and the client comes with ${transport.toUpperCase()}`,
      title: `Forward ${transport.toUpperCase()} ${port} as well`,
      values: [{ label: 'Protocol', now: otherProtocol.protocol.toUpperCase(), mended: 'TCP and UDP' }],
      evidence: evidence(otherProtocol),
      apply: replace(otherProtocol, { protocol: 'both' }),
    };
  const nearPort = rows.find(
    (r) =>
      server !== null &&
      speaks(r) &&
      sameAddress(r.insideAddress, server) &&
      r.insideFirst === port &&
      r.outside.first !== port,
  );
  const text = server ? formatAddress(server) : 'the server’s inside address';
  const added: ForwardRow | null = server && {
    name: c.facts.document.service?.name ?? '',
    protocol: transport,
    outside: { first: port, last: port },
    insideAddress: server,
    insideFirst: port,
    enabled: true,
    applied: true,
    sources: null,
    doubt: null,
    source: null,
  };
  if (nearPort)
    return {
      ...base,
      fault: 'fwd-outside-port',
      wrong: `the forward to the server takes ${rowText(nearPort)} from outside, and the client dials ${port}`,
      title: `Correct the outside port`,
      values: [{ label: 'Outside port', now: `${nearPort.outside.first}`, mended: `${port}` }],
      evidence: evidence(nearPort),
      apply: replace(nearPort, { outside: { first: port, last: port } }),
    };
  return {
    ...base,
    fault: missingFault(c, stop),
    wrong: `no forward takes ${transport.toUpperCase()} ${port}${c.facts.document.path.filter((s) => s.role === 'gateway').length > 1 ? `; each of the gateways needs one` : ''}`,
    title: `Add a forward for ${transport.toUpperCase()} ${port}`,
    values: [
      { label: 'Protocol', now: null, mended: transport.toUpperCase() },
      { label: 'Outside port', now: null, mended: `${port}` },
      { label: 'Inside address', now: null, mended: text },
      { label: 'Inside port', now: null, mended: `${port}` },
    ],
    evidence: rows.flatMap((r) => (r.source ? [r.source] : [])).slice(0, 1),
    apply: added ? (scene: Scene) => withRows(scene, stop, [...rows, added]) : null,
  };
}

/** Of several gateways in a row it matters which one does not forward. */
function missingFault({ facts }: MendContext, stop: string): FaultId {
  const gateways = facts.document.path.filter((s) => s.role === 'gateway');
  if (gateways.length < 2) return 'fwd-none';
  return gateways[0]!.id === stop ? 'outer-missing' : 'inner-missing';
}

const names = (c: MendContext, stop: string): string => c.names(stop);

/** A packet filter without a translation for this port. */
function translationMend(c: MendContext, stop: string, server: Address): Mend | null {
  const { transport, destination } = c.scene.packet;
  const { family } = destination.address;
  const machine = c.scene.site.machines.find((m) => m.id === stop)!;
  const program = machine.program[family];
  const base = program?.baseChains.find(
    (b) => b.hook === 'prerouting' && b.type === 'nat' && b.families.includes(family),
  );
  if (!program) return null;
  const text = `${family === 4 ? 'ip' : 'ip6'} daddr ${formatAddress(destination.address)} ${transport} dport ${destination.port} dnat to ${formatAddress(server)}`;
  const rule: Rule = {
    id: `mend/dnat/${transport}/${destination.port}`,
    text,
    source: null,
    steps: [
      ...exactly(c),
      {
        do: 'translate',
        side: 'destination',
        family,
        target: { addresses: { first: server, last: server }, ports: null },
      },
    ],
  };
  return {
    fault: 'fwd-none',
    stop,
    wrong: `no rule translates ${transport.toUpperCase()} ${destination.port} to the server`,
    title: `Translate ${transport.toUpperCase()} ${destination.port} to ${formatAddress(server)}`,
    where: base
      ? `${c.names(stop)}, chain ${base.chain.name}`
      : `${c.names(stop)}, a new translation chain on prerouting`,
    values: [{ label: 'Rule', now: null, mended: text }],
    commands: base
      ? [insertCommand(base.chain, text)]
      : [
          'nft add table ip nat',
          "nft add chain ip nat prerouting '{ type nat hook prerouting priority dstnat; }'",
          `nft add rule ip nat prerouting ${nftShell(text)}`,
        ],
    also: 'Write the rules to the file that is loaded at start.',
    opens: `${transport} ${destination.port} of the server, as far as the forward rules let it`,
    evidence: base?.chain.source ? [base.chain.source] : [],
    apply: (scene) =>
      withMachine(scene, stop, (m) => ({
        ...m,
        program: {
          ...m.program,
          [family]: base
            ? withRule(m.program[family]!, base.chain.id, rule, base.chain.rules[0]?.id ?? null)
            : withNewBase(m.program[family]!, rule, family),
        },
      })),
  };
}

function withNewBase(program: Program, rule: Rule, family: 4 | 6): Program {
  const chain: Chain = { id: 'mend/prerouting', name: 'prerouting', source: null, rules: [rule] };
  return {
    baseChains: [
      ...program.baseChains,
      { hook: 'prerouting', priority: -100, type: 'nat', policy: 'accept', families: [family], chain },
    ],
    chains: [...program.chains, chain],
  };
}

/** Conditions for exactly this service. */
function exactly({ scene }: MendContext): Rule['steps'] {
  const { transport, destination } = scene.packet;
  const { family } = destination.address;
  return [
    {
      do: 'match',
      fields: [{ of: 'destination', family }],
      rows: [
        [
          {
            type: 'addresses',
            set: addressSet({ family, bits: destination.address.bits, length: family === 4 ? 32 : 128 }),
          },
        ],
      ],
      negate: false,
    },
    {
      do: 'match',
      fields: [{ of: 'dport', protocol: transport === 'tcp' ? 6 : 17 }],
      rows: [[{ type: 'numbers', set: [{ first: destination.port, last: destination.port }] }]],
      negate: false,
    },
  ];
}

/** `nft insert rule …` or `iptables -I …` for a chain, from the chain's id. */
export function insertCommand(chain: Chain, text: string): string {
  const iptables = /^(ip6?tables) (\w+)\/(.+)$/.exec(chain.id);
  if (iptables) return `${iptables[1]} -t ${iptables[2]} -I ${shellWord(iptables[3] ?? '')} (the rule above)`;
  const nft = /^(\w+) ([^/]+)\/(.+)$/.exec(chain.id);
  if (!nft) return text;
  const [family, table, name] = nft.slice(1).map(shellWord);
  return `nft insert rule ${family} ${table} ${name} ${nftShell(text)}`;
}

/** The forward sends to a machine that is not the server. */
export function strayForward(c: MendContext): Mend | null {
  const { ending, stop } = c.run;
  if (ending.kind !== 'astray' && ending.kind !== 'nobody-there') return null;
  const machine = endMachine(c);
  const server = machine ? targetOf(c, machine) : null;
  if (
    !server ||
    !machine ||
    stop === null ||
    sameAddress(server.address, ending.address) ||
    server.machine === machine
  )
    return null;
  const lease = factsOf(c.facts, 'lease').find((l) =>
    sameAddress(parseAddress(l.fact.address) ?? server.address, ending.address),
  );
  const to = formatAddress(ending.address);
  const { port } = c.scene.packet.destination;
  const rows = c.scene.rows.get(stop);
  const row = rows?.find(
    (r) =>
      r.enabled &&
      r.applied !== false &&
      port >= r.outside.first &&
      port <= r.outside.last &&
      (r.protocol === 'both' || r.protocol === c.scene.packet.transport) &&
      sameAddress(r.insideAddress, ending.address),
  );
  const holder = lease ? ` (${lease.fact.name ?? lease.fact.mac ?? 'another machine'} has it now)` : '';
  const isSlip = !lease && slipOf(to, formatAddress(server.address)) !== null;
  const fault: FaultId = isSlip ? 'fwd-target-typo' : 'fwd-target-stale';
  const common = {
    fault,
    stop,
    wrong: `its forward sends ${c.scene.packet.transport.toUpperCase()} ${port} to ${to}${holder}, and the ${server.machine.role === 'gateway' ? 'next gateway' : 'server'} is ${formatAddress(server.address)}`,
    values: [{ label: 'Inside address', now: to, mended: formatAddress(server.address) }],
    also: `Reserve ${formatAddress(server.address)} for ${c.names(server.machine.id)} in the lease table, or it moves again.`,
    opens: 'nothing that was not meant to be open',
    evidence: [...(row?.source ? [row.source] : []), ...(lease ? [lease.source] : [])],
  };
  if (rows && row) {
    return {
      ...common,
      title: `Send the forward for ${rowText(row)} to ${formatAddress(server.address)}`,
      where: `${c.names(stop)}, table of port forwards${row.name ? `, row “${row.name}”` : `, row ${rows.indexOf(row) + 1}`}`,
      commands: [],
      apply: (scene) =>
        withRows(
          scene,
          stop,
          rows.map((r) => (r === row ? { ...r, insideAddress: server.address } : r)),
        ),
    };
  }
  const rule = translatingRule(c);
  if (!rule) return null;
  const { family } = server.address;
  return {
    ...common,
    title: `Translate to ${formatAddress(server.address)}`,
    where: `${c.names(stop)}, the rule “${rule.text}”`,
    commands: [],
    evidence: [...(rule.source ? [rule.source] : []), ...common.evidence],
    apply: (scene) =>
      withMachine(scene, stop, (m) => ({
        ...m,
        program: {
          ...m.program,
          [family]: replaceRule(m.program[family]!, rule.id, (r) => ({
            ...r,
            steps: r.steps.map((s) =>
              s.do === 'translate'
                ? {
                    ...s,
                    target: { ...s.target, addresses: { first: server.address, last: server.address } },
                  }
                : s,
            ),
          })),
        },
      })),
  };
}

function translatingRule({ run }: MendContext): Rule | null {
  const leg = run.legs.find((l) => l.stop === run.stop && l.lane === 'forward');
  for (const e of leg?.events ?? []) if (e.event === 'translated' && e.side === 'destination') return e.rule;
  return null;
}
