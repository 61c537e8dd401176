import { type CaseFacts } from '../../ledger/index.ts';
import { type StopNames } from '../../words/index.ts';
import { type Aim } from './packet.ts';
import type { CrossingView, Lamp } from './types.ts';

/** What is wrong with a name, under its lamp. */
const TROUBLES: Readonly<Record<NonNullable<Aim['trouble']>, string>> = {
  'no-such-name': 'no such name',
  'no-address': 'no address record',
  'not-looked-up': 'not looked up',
  'no-dial': 'not looked up',
};

/** The picture of a case that has no packet yet: every stop in fog. */
export function emptyCrossing(facts: CaseFacts, aim: Aim, names: StopNames): CrossingView {
  const bad = aim.trouble === 'no-such-name' || aim.trouble === 'no-address';
  const stop = (
    id: string,
    name: string,
    caption: string,
    lamp: Lamp,
    ends = false,
  ): CrossingView['stops'][number] => ({
    id,
    name,
    caption,
    lamp,
    word: lamp === 'fogged' ? 'not known' : lamp,
    turned: false,
    beyond: lamp === 'fogged',
    ends,
    source: ends ? aim.source : null,
  });
  const stops = facts.document.path.flatMap((s, i) => [
    stop(
      s.id,
      names(s.id),
      i === 0 ? (facts.document.client?.address ?? '') : 'nothing known yet',
      i === 0 ? 'lit' : 'fogged',
    ),
    ...(i === 0 && aim.name
      ? [stop('name', 'Name', TROUBLES[aim.trouble ?? 'not-looked-up'], bad ? 'shut' : 'fogged', bad)]
      : []),
  ]);
  stops.push(stop('program', facts.document.service?.name || 'Program', 'nothing known yet', 'fogged'));
  const empty = {
    state: 'empty',
    source: '',
    destination: '',
    sourceChanged: false,
    destinationChanged: false,
    note: '',
  } as const;
  return { stops, wires: stops.slice(1).map(() => ({ out: empty, back: empty })) };
}
