import { nth } from '../../place/index.ts';
import type { Header } from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import { ifAllWhole, type CaseFacts } from '../../ledger/index.ts';
import { buildSite } from '../../model/index.ts';
import { announcedMend, mendChain, sceneFrom, type MendStep } from '../../mend/index.ts';
import { proposals } from '../../proposals/index.ts';
import { proposalWords, tooOpenText, type StopNames } from '../../words/index.ts';
import { stopNames } from './names.ts';
import { endpointKey, endpointLabel, lampOf, tried, viewpointTab, WORDS } from './endpoints.ts';
import { clientLine, dialNotes, serviceLine } from './lines.ts';
import { laterOf, nextOf } from './next.ts';
import { againAt, openChecks } from './checks.ts';
import { crossingView } from './crossingView.ts';
import { contradictionViews } from './shelf.ts';
import { type Aim } from './packet.ts';
import { viewpointsOf } from './viewpoint.ts';
import { tooOpen } from './tooOpen.ts';
import { trialOf } from './trial.ts';
import { recordLines, type RecordLine } from './recordLines.ts';
import { stopDetail } from './stopDetail.ts';
import type { BenchView, CrossingView, EndpointTab, VerdictView } from './types.ts';
import {
  awaitingVerdict,
  capturedVerdict,
  loggedVerdict,
  recordedAgainst,
  seenAgainst,
  verdictOf,
  verdictWithoutPacket,
} from './verdict.ts';
import { heldCrossing, heldSteps, isRefuted, verdictOfHeld } from './held.ts';
import { loggedCrossing, loggedSteps, loggedWithoutDial, type Logged } from './logged.ts';
import { mendView } from './mendView.ts';
import { captured, capturedCrossing, checksFrom } from './captured.ts';
import { emptyCrossing } from './emptyCrossing.ts';
import { nextConnectionOf } from './nextConnection.ts';

/**
 * Everything that the bench shows, worked out from the facts of a case. Pure; costs a few traces for each
 * endpoint.
 */
export function benchView(
  facts: CaseFacts,
  wanted: string | null = null,
  wantedView: string | null = null,
): BenchView {
  const names = stopNames(facts);
  const site = buildSite(facts);
  const views = viewpointsOf(facts, site);
  const view = views.find((v) => v.key === wantedView) ?? nth(views, 0);
  const { aim } = view;
  const endpoints = facts.document.service?.endpoints ?? [];
  const worked = endpoints.map((endpoint) => tried(facts, site, view, endpoint));
  const shown =
    worked.find((w) => endpointKey(w.endpoint) === wanted) ??
    worked.find((w) => w.lamp === 'shut') ??
    worked.find((w) => w.lamp === 'fogged') ??
    worked.find((w) => w.packet && announcedMend(facts, w.packet)) ??
    worked[0] ??
    null;
  const tabs: EndpointTab[] = worked.map((w) => ({
    key: endpointKey(w.endpoint),
    label: endpointLabel(w.endpoint),
    lamp: w.lamp,
    word: WORDS[w.lamp],
  }));
  const base = {
    title: facts.document.title,
    serviceLine: serviceLine(facts),
    clientLine: clientLine(facts, aim),
    endpoints: tabs,
    guessed: endpoints.flatMap((e) => (e.guessed ? [{ port: e.port, protocol: e.protocol }] : [])),
    selected: shown ? endpointKey(shown.endpoint) : null,
    dialNotes: dialNotes(facts),
    proposals: proposals(facts, site).map((proposal) => ({ proposal, ...proposalWords(proposal, names) })),
    contradictions: contradictionViews(facts, names),
    viewpoints: shown
      ? views.map((v) => viewpointTab(v, v === view ? shown : tried(facts, site, v, shown.endpoint)))
      : [],
    viewpoint: view.key,
    records: shown ? recordLines(facts, shown.endpoint, names) : [],
    trial: shown?.packet ? trialOf(facts, view, shown.packet) : null,
  };
  const steps = shown?.packet ? mendChain(facts, sceneFrom(facts, shown.packet, site)) : null;
  if (!steps) {
    const checks = openChecks(facts, site, aim, null);
    const logged = shown && aim.trouble === 'no-dial' ? loggedWithoutDial(facts, site, shown.endpoint) : null;
    const verdict = logged
      ? loggedVerdict(logged, names)
      : verdictWithoutPacket(aim, aim.source ? [aim.source] : []);
    const empty = emptyCrossing(facts, aim, names);
    const found = logged?.isClient ? logged.steps[0].mend : null;
    const mend = logged && found ? mendView(facts, aim, logged.steps, found, checks, names) : null;
    return {
      ...base,
      records: besides(base.records, logged),
      verdict,
      ifWhole: null,
      warnings: [],
      afterwards: null,
      crossing: logged?.isClient ? loggedCrossing(empty, logged) : empty,
      next: nextOf(facts, mend, checks, names, aim, verdict.lamp),
      later: laterOf(checks, names, 1),
      stops: details(facts, [], names, site),
    };
  }
  const held = shown?.packet ? heldSteps(facts, shown.packet, names) : null;
  const first = nth(steps, 0);
  const open = openChecks(facts, first.scene.site, aim, first.trace);
  const seen = base.trial ? seenAgainst(facts, first, base.trial, names) : null;
  const isHeld = held !== null && seen === null && !isRefuted(base.trial);
  const changed = seen ?? (isHeld ? null : awaitingVerdict(facts, first, names));
  const logged = changed || isHeld ? null : loggedSteps(facts, first);
  const came = changed || isHeld || logged ? null : captured(facts, first.trace);
  const isOpen = came !== null && lampOf(first.trace) === 'fogged';
  const against = came && recordedAgainst(facts, came, first, names);
  const worthwhile = came && isOpen ? checksFrom(facts, came, open) : open;
  const checks = seen?.lamp === 'fogged' || against ? [...againAt(first.mend), ...worthwhile] : worthwhile;
  let used: readonly MendStep[] = logged?.isClient ? logged.steps : steps;
  if (isHeld) used = held.steps;
  const followedVerdict = (): VerdictView => {
    if (isHeld) return verdictOfHeld(facts, aim, held, names);
    if (logged) return loggedVerdict(logged, names);
    const died = came && isOpen ? capturedVerdict(came, names) : null;
    return against ?? died ?? verdictOf(facts, aim, steps, checks, names, isOpen ? came.record : null);
  };
  const verdict = changed ?? followedVerdict();
  const followed = crossingView(facts, aim, used, names);
  let plain = isHeld ? heldCrossing(followed, held) : followed;
  if (logged?.isClient) plain = loggedCrossing(plain, logged);
  if (came && isOpen) plain = capturedCrossing(plain, came);
  if (against) plain = clouded(plain);
  const overlay = changed?.lamp === 'lit' ? cleared : clouded;
  const crossing = changed ? overlay(plain) : plain;
  const [{ mend: found }] = used as [MendStep];
  const second = verdict.lamp === 'lit' ? announcedMend(facts, first.scene.packet) : null;
  const wrong = verdict.lamp === 'shut' ? found : second;
  const mend = wrong && !against ? mendView(facts, aim, used, wrong, checks, names) : null;
  const isOther = changed !== null || isHeld || logged !== null || came !== null;
  const lamp = isOther ? verdict.lamp : 'fogged';
  const endpointTabs = isOther
    ? tabs.map((t) => (t.key === base.selected ? { ...t, lamp, word: WORDS[lamp] } : t))
    : tabs;
  const viewpoints = changed
    ? base.viewpoints.map((t) => (t.lamp === 'shut' ? { ...t, lamp, word: WORDS[lamp] } : t))
    : base.viewpoints;
  return {
    ...base,
    records: besides(base.records, logged),
    endpoints: endpointTabs,
    viewpoints,
    verdict,
    ifWhole: verdict.lamp === 'fogged' ? ifWholeOf(facts, aim, first.scene.packet, names) : null,
    warnings: tooOpen(facts, first.scene.site, first.scene.packet, first.trace).map(tooOpenText),
    afterwards: second ? nextConnectionOf(facts, first.scene, second) : null,
    crossing,
    next: nextOf(facts, mend, checks, names, aim, verdict.lamp),
    later: laterOf(checks, names, mend ? 0 : 1),
    stops: details(facts, first.trace.shown.legs, names, site),
  };
}

/** What was seen besides the record that the verdict tells of. */
const besides = (records: readonly RecordLine[], logged: Logged | null): readonly RecordLine[] => {
  const told = logged?.record.source;
  return records.filter(({ source }) => source.file !== told?.file || source.line !== told.line);
};

/** Where nothing but wholeness is open: what follows if the listings are all that there is. */
function ifWholeOf(facts: CaseFacts, aim: Aim, packet: Header, names: StopNames): BenchView['ifWhole'] {
  const whole = ifAllWhole(facts);
  if (!whole) return null;
  const scene = sceneFrom(whole.facts, packet, buildSite(whole.facts));
  const steps = mendChain(whole.facts, scene);
  const { headline, lamp } = verdictOf(whole.facts, aim, steps, [], names);
  return lamp === 'fogged' ? null : { text: headline, files: whole.files };
}

/** The picture of a way that ended where something was changed since: fog instead of a bar. */
const clouded = (view: CrossingView): CrossingView => ({
  ...view,
  stops: view.stops.map((s) => (s.ends ? { ...s, lamp: 'fogged', word: 'in question', ends: false } : s)),
});

/** The picture of a way that was seen to work. */
const cleared = (view: CrossingView): CrossingView => ({
  ...view,
  stops: view.stops.map((s) => ({ ...s, lamp: 'lit', word: 'seen to work', ends: false, beyond: false })),
});

const details = (facts: CaseFacts, legs: Parameters<typeof stopDetail>[2], names: StopNames, site: Site) =>
  facts.document.path.map((s) => stopDetail(facts, s.id, legs, names, site.problems));
