import { withId } from '../../place/index.ts';
import type { Leg } from '../../crossing/index.ts';
import { factsOf, staleSince, type CaseFacts, answers } from '../../ledger/index.ts';
import type { Fact } from '../../facts/index.ts';
import { addressKind, formatAddress, formatEndpoint, isReachable, parseAddress } from '../../net/index.ts';
import {
  asksOf,
  checkWords,
  endingText,
  factText,
  reasonText,
  type StopNames,
  misplacedText,
  problemText,
} from '../../words/index.ts';
import type { Site } from '../../site/index.ts';
import { suggestedSettings, lastSystem } from '../../model/index.ts';
import { parseDialled } from '../../intake/index.ts';
import { formatTitle } from './formats.ts';
import { forSystem } from './system.ts';
import { startingRows } from './startingRows.ts';
import type { StopDetail } from './types.ts';
import { MOST_RULES, rulesOf } from './stopRules.ts';

/** Inside addresses that leases, lists of devices and the machines themselves name. */
function addressesToPick(facts: CaseFacts, names: StopNames): StopDetail['addresses'] {
  const out = new Map<string, string>();
  for (const { fact } of factsOf(facts, 'lease')) out.set(fact.address, fact.name ?? fact.mac ?? '');
  for (const { fact, stop } of factsOf(facts, 'address')) {
    const own = parseAddress(fact.address);
    if (own && !isReachable(own) && fact.scope === 'global' && addressKind(own).kind === 'private')
      out.set(fact.address, names(stop));
  }
  return [...out].slice(0, MOST_FACTS).map(([address, who]) => ({ address, who }));
}

/** The case as if nobody had filled in anything about a stop: what its evidence shows by itself. */
function withoutSettings(facts: CaseFacts, stop: string): CaseFacts {
  const path = facts.document.path.map((s) => {
    const { settings: _, ...rest } = s;
    return s.id === stop ? rest : s;
  });
  return { ...facts, document: { ...facts.document, path } };
}

/** Facts shown for one stop; more are in the evidence itself. */
const MOST_FACTS = 200;

/** What is known of a stop, what the packet met there, and the evidence for it. */
export function stopDetail(
  facts: CaseFacts,
  stop: string,
  legs: readonly Leg[],
  names: StopNames,
  problems: NonNullable<Site['problems']> = [],
): StopDetail {
  const own = facts.files.filter((f) => f.stop === stop);
  const mine = legs.filter((l) => l.stop === stop);
  return {
    id: stop,
    name: names(stop),
    role: facts.document.path.find((s) => s.id === stop)?.role ?? 'host',
    settings: facts.document.path.find((s) => s.id === stop)?.settings ?? null,
    settingsProblem: problems.find((p) => p.stop === stop)?.text ?? null,
    suggested: suggestedSettings(withoutSettings(facts, stop), stop),
    starting: startingRows(facts),
    addresses: addressesToPick(facts, names),
    alsoCalled: otherNames(facts, stop, names(stop)),
    asks: asksHere(facts, stop, own, names),
    found: foundOf(facts, stop, names),
    facts: own
      .flatMap((f) =>
        f.facts.map((fact) => ({
          fact,
          file: f.file,
          typed: f.typed,
          at: f.at,
          stale: staleSince(f, facts.document) !== null,
        })),
      )
      .sort((a, b) => rank(a.fact) - rank(b.fact))
      .slice(0, MOST_FACTS)
      .map(({ fact, file, ...rest }) => ({ ...factText(fact), source: { file, ...fact.at }, ...rest })),
    rules: mine.flatMap((leg) => rulesOf(leg)).slice(0, MOST_RULES),
    events: mine.flatMap((leg) => eventsOf(leg, names)),
    files: own.map((f) => ({
      file: f.file,
      title: formatTitle(f.format),
      format: f.format,
      facts: f.facts.length,
      problems: f.problems.slice(0, 50).map((p) => ({ ...p, why: problemText(p.why) })),
      at: f.at,
      typed: f.typed,
      part: f.part === true,
      misplaced: f.misplaced ? misplacedText(f.misplaced, stop, names) : null,
      stale: staleSince(f, facts.document) !== null,
    })),
  };
}

/**
 * Names that others have for the machine: in leases and lists of devices, by its link address or one of its
 * addresses.
 */
function otherNames(facts: CaseFacts, stop: string, called: string): StopDetail['alsoCalled'] {
  const marks = new Set([
    ...factsOf(facts, 'interface')
      .filter((i) => i.stop === stop && i.fact.mac && !i.fact.loopback)
      .map((i) => i.fact.mac!.toLowerCase()),
    ...factsOf(facts, 'address')
      .filter((a) => a.stop === stop && a.fact.scope !== 'host' && a.fact.scope !== 'link')
      .map((a) => a.fact.address),
  ]);
  const seen = new Set([called.toLowerCase(), '*']);
  return factsOf(facts, 'lease').flatMap(({ fact, source }) => {
    const name = fact.name;
    if (
      !name ||
      seen.has(name.toLowerCase()) ||
      !(marks.has(fact.address) || (fact.mac !== null && marks.has(fact.mac.toLowerCase())))
    )
      return [];
    seen.add(name.toLowerCase());
    return [{ name, source }];
  });
}

/** What the stop can be asked for, and whether something of it is here already. */
function asksHere(
  facts: CaseFacts,
  stop: string,
  own: CaseFacts['files'],
  names: StopNames,
): StopDetail['asks'] {
  const { role } = withId(facts.document.path, stop);
  const port = facts.document.service?.endpoints?.[0]?.port ?? null;
  const name = facts.document.client?.dials
    ? (parseDialled(facts.document.client.dials)?.host ?? null)
    : null;
  return asksOf(role).map((yields) => ({
    yields,
    words: forSystem(
      checkWords(yields, names(stop), name !== null && parseAddress(name) === null ? name : null, port, role),
      lastSystem(facts, stop),
    ),
    here: own.some((f) => answers(f, yields)),
  }));
}

/** Kept with the stop when it was put on the path (see `proposals/apply.ts`). */
function foundOf(facts: CaseFacts, stop: string, names: StopNames): StopDetail['found'] {
  const found = facts.document.path.find((s) => s.id === stop)?.found;
  if (!found) return null;
  return { id: found.id, text: sentence(reasonText(found.reason, names)), evidence: found.evidence };
}

/** What tells most stands first: who it is, where it sends, what listens. Loopback and link-local last. */
function rank(fact: Fact): number {
  if (
    (fact.kind === 'address' && (fact.scope === 'host' || fact.scope === 'link')) ||
    (fact.kind === 'interface' && fact.loopback)
  )
    return 9;
  const order: Readonly<Partial<Record<Fact['kind'], number>>> = {
    labelled: 0,
    forward: 1,
    name: 1,
    lease: 2,
    address: 2,
    socket: 3,
    route: 4,
    nft: 4,
    iptables: 4,
    setting: 5,
    policy: 5,
    neighbour: 6,
    interface: 7,
  };
  return order[fact.kind] ?? 5;
}

function eventsOf(leg: Leg, names: StopNames): string[] {
  return leg.events.flatMap((e): string[] => {
    switch (e.event) {
      case 'translated':
        return [
          `${e.side === 'destination' ? 'Destination' : 'Source'} ${formatEndpoint(e.from)} becomes ` +
            `${formatEndpoint(e.to)}${e.rule ? `, by “${e.rule.text}”` : ', as the connection remembers'}`,
        ];
      case 'routed':
        return [
          `Route to ${formatAddress(e.destination)}: ${e.via ? `via ${formatAddress(e.via)}, ` : ''}out ` +
            `of ${e.out ?? '?'}`,
        ];
      case 'delivered':
        return [e.socket ? `Taken by ${e.socket.program ?? 'a listener'}` : 'Taken by a listener'];
      case 'ended':
        return [sentence(endingText(e.ending, leg.stop, names))];
      default:
        return [];
    }
  });
}

const sentence = (text: string): string => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
