import { buildSite, type CaseFacts } from '../evidence/index.ts';
import { deadRules, exposures, type Exposure } from '../exposure/index.ts';
import { formatAddress, formatPorts } from '../net/index.ts';
import type { SourceRef } from '../site/index.ts';
import type { StopNames } from '../words/index.ts';

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
    /** Whether the service of the case asks for it. */
    readonly asked: boolean;
    readonly source: SourceRef | null;
  }[];
  readonly dead: readonly { readonly stop: string; readonly rule: string; readonly by: readonly string[]; readonly source: SourceRef | null }[];
}

/** Rule sets of more rules than this are not searched for rules that can never match while somebody waits. */
const MOST_RULES = 2000;

/** Works out everything that an outside sender reaches in a case. */
export function openingsView(facts: CaseFacts, names: StopNames): OpeningsView {
  const site = buildSite(facts);
  const endpoints = facts.document.service?.endpoints ?? [];
  const asked = (e: Exposure): boolean => e.socket !== null && endpoints.some((x) => x.protocol === e.transport && e.socket!.port >= x.port && e.socket!.port <= (x.portEnd ?? x.port));
  const rows = exposures(site).map((e) => ({
    stop: names(e.stop), listener: e.socket ? `${e.program ?? 'a program'} on ${e.socket.address ? formatAddress(e.socket.address) : 'all addresses'}:${e.socket.port}` : 'whatever listens there', ports: `${e.transport} ${formatPorts(e.outsidePorts)}`,
    at: e.outsideAddresses.join(', '), sources: e.anyone ? 'anyone' : e.sources.length > 6 ? `${e.sources.slice(0, 6).join(', ')} and ${e.sources.length - 6} more` : e.sources.join(', '), anyone: e.anyone, sure: !e.maybe, asked: asked(e), source: e.why.find((w) => w.source)?.source ?? null,
  }));
  const dead = site.machines.flatMap((m) => ([4, 6] as const).flatMap((family) => {
    const program = m.program[family];
    // Both families usually share one program: each rule is told of once.
    if (!program || (family === 6 && program === m.program[4]) || m.presumed.kind === 'box' || program.chains.reduce((n, c) => n + c.rules.length, 0) > MOST_RULES) return [];
    return deadRules(program, family, (m.interfaces ?? []).map((i) => i.name)).filter((d) => d.shadowedBy.length > 0).map((d) => ({ stop: names(m.id), rule: d.rule.text, by: d.shadowedBy.map((s) => s.text), source: d.rule.source }));
  }));
  return { rows: [...rows].sort((a, b) => Number(a.asked) - Number(b.asked)), dead };
}
