import { trace, visitsOf, type Run, type Trace } from '../../crossing/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { settingsOfKind } from '../../case/index.ts';
import {
  addressIntersection,
  ALL_ADDRESSES,
  isReachable,
  parseAddress,
  type Address,
  type Header,
} from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import type { TooOpen } from '../../words/index.ts';
import { audienceOf, graveness, sizeOf } from './audience.ts';

/** Senders that no case is about (RFC 5737 §3, RFC 3849): what lets one of them in lets anybody in. */
const STRANGERS: Readonly<Record<4 | 6, string>> = { 4: '192.0.2.254', 6: '2001:db8:ffff:ffff::fe' };

/**
 * What lets more people in than was asked for, where a packet from outside is answered.
 * @param packet the one that is answered
 */
export function tooOpen(facts: CaseFacts, site: Site, packet: Header, result: Trace): TooOpen[] {
  const exposed = exposedHost(facts);
  const own: TooOpen[] = exposed === null ? [] : [{ open: 'exposed-host', address: exposed }];
  if (result.outcome !== 'answered' || !isReachable(packet.source.address)) return own;
  const asked = audienceOf(facts);
  if (asked === 'anyone') return own;
  const { port } = lastDestination(result.shown);
  const isForStrangers = strangerGets(site, packet);
  if (isForStrangers) {
    const grave = graveness(port);
    if (grave !== null) return [grave, ...own];
    return asked === null ? own : [{ open: 'everyone', asked: sizeOf(asked) }, ...own];
  }
  const lets = letIn(result.shown, packet.source.address.family);
  const wanted = asked === null ? 1 : sizeOf(asked);
  return lets !== null && lets > wanted ? [{ open: 'wide', lets, asked: wanted }, ...own] : own;
}

const lastDestination = (run: Run) =>
  run.seen?.destination ?? run.legs[run.legs.length - 1]?.after.destination ?? { port: 0 };

function strangerGets(site: Site, packet: Header): boolean {
  const address = parseAddress(STRANGERS[packet.source.address.family]);
  if (!address) return false;
  return trace(site, { ...packet, source: { ...packet.source, address } }).outcome === 'answered';
}

/** How many senders the rules that let the packet in are for; null: none of them names its senders. */
function letIn(run: Run, family: Address['family']): number | null {
  let set = ALL_ADDRESSES;
  let isNamed = false;
  for (const leg of run.legs.filter((l) => l.lane === 'forward'))
    for (const { visit } of visitsOf(leg)) {
      if (!visit.hit) continue;
      for (const step of visit.rule.steps) {
        if (step.do !== 'match' || step.negate || step.fields.length !== 1) continue;
        if (step.fields[0]?.of !== 'source') continue;
        const own = step.rows.flatMap(([v]) => (v?.type === 'addresses' ? [v.set] : []));
        isNamed = true;
        for (const one of own.slice(0, 1)) set = addressIntersection(set, one);
      }
    }
  return isNamed ? sizeOf(family === 4 ? { 4: set[4], 6: [] } : { 4: [], 6: set[6] }) : null;
}

/** The machine that takes everything that no forward takes; null: none is known. */
function exposedHost({ document, files }: CaseFacts): string | null {
  for (const stop of document.path) {
    const typed = settingsOfKind(stop, 'forward-table')?.exposedHost;
    if (typed !== undefined) return typed;
  }
  const said = files.flatMap((f) =>
    f.facts.flatMap((x) => (x.kind === 'labelled' && x.what === 'exposed-host' ? [x.value] : [])),
  );
  return said.findLast((value) => parseAddress(value) !== null) ?? null;
}
