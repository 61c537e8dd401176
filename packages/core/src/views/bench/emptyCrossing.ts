import { type CaseFacts } from '../../ledger/index.ts';
import { parseAddress } from '../../net/index.ts';
import { captionText, type Caption, type StopNames } from '../../words/index.ts';
import { nameCaption, type Aim } from './packet.ts';
import type { CrossingView, Lamp } from './types.ts';

const clientCaption = (facts: CaseFacts): Caption => ({
  caption: 'address',
  address: parseAddress(facts.document.client?.address ?? ''),
});

/** A stop to which no packet has come: something may be known of it all the same. */
export const unreached = ({ files }: CaseFacts, stop: string): Caption => ({
  caption: files.some((f) => f.stop === stop && f.facts.length > 0) ? 'not-come-this-far' : 'nothing-known',
});

/** The picture of a case that has no packet yet: every stop in fog. */
export function emptyCrossing(facts: CaseFacts, aim: Aim, names: StopNames): CrossingView {
  const bad = aim.trouble === 'no-such-name' || aim.trouble === 'no-address';
  const stop = (
    id: string,
    name: string,
    caption: Caption,
    lamp: Lamp,
    ends = false,
  ): CrossingView['stops'][number] => ({
    id,
    name,
    caption: captionText(caption, names),
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
      i === 0 ? clientCaption(facts) : unreached(facts, s.id),
      i === 0 ? 'lit' : 'fogged',
    ),
    ...(i === 0 && aim.name
      ? [stop('name', 'Name', { caption: nameCaption(aim) }, bad ? 'shut' : 'fogged', bad)]
      : []),
  ]);
  stops.push(
    stop('program', facts.document.service?.name || 'Program', { caption: 'nothing-known' }, 'fogged'),
  );
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
