import { buildSite } from '../../model/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { deadRules, exposures, type Exposure } from '../../exposure/index.ts';
import { formatPorts, type PortSet } from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { TooMuchWork } from '../../rules/index.ts';
import type { Machine, Site } from '../../site/index.ts';
import { askedText, listenerText, needLine, tooOpenText, type StopNames } from '../../words/index.ts';
import { audienceOf, graveness } from '../bench/audience.ts';
import { isWider, letIn, type LetIn } from './letIn.ts';
import { idleRows, programRows, type IdleRow, type ProgramRow } from './programs.ts';

/** What the outside reaches, and the rules that do nothing. */
export interface OpeningsView {
  readonly rows: readonly {
    readonly stop: string;
    readonly listener: string;
    readonly ports: string;
    readonly at: string;
    readonly sources: string;
    readonly anyone: boolean;
    readonly sure: boolean;
    /** What would settle it, where it is not sure. */
    readonly needs: string | null;
    /** Whether the service of the case asks for it. */
    readonly asked: boolean;
    /** Whether it lets in somebody whom the service is not meant for. */
    readonly wider: boolean;
    readonly askedText: string;
    readonly letIn: LetIn;
    /** Remote administration or a database, open to everyone; null: none of these. */
    readonly grave: string | null;
    readonly source: SourceRef | null;
  }[];
  readonly dead: readonly {
    readonly stop: string;
    readonly rule: string;
    readonly by: readonly string[];
    readonly source: SourceRef | null;
  }[];
  /** What listens on the servers, who can reach it, and whether the service needs it. */
  readonly programs: readonly ProgramRow[];
  /** Rows that let in what nothing takes. */
  readonly idle: readonly IdleRow[];
  /** Stops whose rules were not searched, since it would take too long. */
  readonly unsearched: readonly string[];
  /** Why nothing could be worked out; null where it could. */
  readonly refused: string | null;
}

/** Rule sets of more rules than this are not searched for rules that can never match while somebody waits. */
const MOST_RULES = 2000;

/** Works out everything that an outside sender reaches in a case. */
export function openingsView(facts: CaseFacts, names: StopNames): OpeningsView {
  const site = buildSite(facts);
  const endpoints = facts.document.service?.endpoints ?? [];
  // Where nobody knows who takes it, the port that is dialled tells what it is meant for.
  const portsOf = ({ socket, outsidePorts }: Exposure): PortSet =>
    socket ? [{ first: socket.port, last: socket.port }] : outsidePorts;
  const asked = (e: Exposure): boolean =>
    portsOf(e).every(({ first, last }) =>
      endpoints.some((x) => x.protocol === e.transport && first >= x.port && last <= (x.portEnd ?? x.port)),
    );
  const audience = audienceOf(facts);
  const { found, refused } = openRows(site);
  const rows = found.map((e) => ({
    stop: names(e.stop),
    listener: listenerText(e, names),
    ports: `${e.transport} ${formatPorts(e.outsidePorts)}`,
    at: e.outsideAddresses.join(', '),
    sources: sourcesText(e),
    anyone: e.anyone,
    sure: !e.maybe,
    needs: e.needs[0] ? needLine(e.needs[0], names) : null,
    asked: asked(e),
    wider: isWider(e, audience),
    askedText: askedText(asked(e), isWider(e, audience)),
    letIn: letIn(e),
    grave: graveText(e),
    source: e.why.find((w) => w.source)?.source ?? null,
  }));
  const { dead, unsearched } = neverMatching(site.machines, names);
  return {
    rows: [...rows].sort((a, b) => order(a) - order(b)),
    // Where nothing could be worked out, nobody is said to be out of reach.
    programs: refused === null ? programRows(site, found, endpoints, names) : [],
    idle: idleRows(site, names),
    dead,
    unsearched,
    refused,
  };
}

/** What is grave first, then what nobody asked for, then what lets in too many. */
const order = (r: OpeningsView['rows'][number]): number => {
  if (r.grave !== null) return 0;
  if (!r.asked) return 1;
  return r.wider ? 2 : 3;
};

function graveText({ socket, anyone, maybe }: Exposure): string | null {
  const grave = socket && anyone && !maybe ? graveness(socket.port) : null;
  return grave && tooOpenText(grave);
}

/** As many senders as fit are named. */
const NAMED_SENDERS = 6;

function sourcesText({ anyone, sources }: Exposure): string {
  if (anyone) return 'anyone';
  const more = sources.length - NAMED_SENDERS;
  if (more <= 0) return sources.join(', ');
  return `${sources.slice(0, NAMED_SENDERS).join(', ')} and ${more} more`;
}

/** Rules that can never match, and the stops where they were not looked for since it would take too long. */
function neverMatching(
  machines: readonly Machine[],
  names: StopNames,
): Pick<OpeningsView, 'dead' | 'unsearched'> {
  const dead: OpeningsView['dead'][number][] = [];
  const unsearched = new Set<string>();
  for (const machine of machines) {
    for (const family of [4, 6] as const) {
      const program = machine.program[family];
      // Both families usually share one program: each rule is told of once.
      if (!program || (family === 6 && program === machine.program[4]) || machine.presumed.kind === 'box')
        continue;
      const rules = program.chains.reduce((n, c) => n + c.rules.length, 0);
      const devices = (machine.interfaces ?? []).map((i) => i.name);
      const found = rules > MOST_RULES ? null : deadRules(program, family, devices);
      if (!found?.isSearched) unsearched.add(names(machine.id));
      for (const d of found?.rules ?? []) {
        if (d.shadowedBy.length === 0) continue;
        const by = d.shadowedBy.map((s) => s.text);
        dead.push({ stop: names(machine.id), rule: d.rule.text, by, source: d.rule.source });
      }
    }
  }
  return { dead, unsearched: [...unsearched] };
}

/** The rows of what is open; or why they could not be worked out. */
function openRows(site: Site): { readonly found: readonly Exposure[]; readonly refused: string | null } {
  try {
    return { found: exposures(site), refused: null };
  } catch (error) {
    if (!(error instanceof TooMuchWork)) throw error;
    return { found: [], refused: error.message };
  }
}
