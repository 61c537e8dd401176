import type { Became } from '../../ledger/index.ts';
import { conversationEnd, endingError, type CapturedFlow } from '../../traffic/index.ts';
import type { Teller } from '../../words/index.ts';

/** A conversation of a capture, with what became of its question and who told it. */
export interface ToldFlow {
  readonly flow: CapturedFlow;
  readonly became: Became;
  readonly by: Teller | null;
}

/**
 * What became of each question of a capture. An answer that comes from another address than was asked stands
 * with its question, which it does not end (RFC 9293 §3.10.7.3).
 */
export function toldFlows(flows: readonly CapturedFlow[]): ToldFlow[] {
  const askers = new Map<string, CapturedFlow>();
  for (const f of flows) if (f.there.syns > 0 && f.back.packets === 0) askers.set(askerOf(f), f);
  const instead = new Map<CapturedFlow, CapturedFlow>();
  const strays = new Set<CapturedFlow>();
  for (const f of flows) {
    const asked = f.there.syns === 0 && f.back.synAcks > 0 ? askers.get(askerOf(f)) : undefined;
    if (!asked || asked.destination === f.destination) continue;
    instead.set(asked, f);
    strays.add(f);
  }
  return flows.filter((f) => !strays.has(f)).map((f) => told(f, instead.get(f)));
}

/** Whoever asks over TCP, whatever is asked. */
const askerOf = ({ protocol, source, sourcePort }: CapturedFlow): string =>
  `${protocol} ${source} ${sourcePort}`;

function told(flow: CapturedFlow, instead: CapturedFlow | undefined): ToldFlow {
  const error = endingError(flow, flow.source, flow.errors);
  if (error)
    return {
      flow,
      became: error.about === 'question' ? 'refused' : 'answer-lost',
      by: { is: 'icmp', ...error },
    };
  if (instead) return { flow, became: 'answer-refused', by: { is: 'other', from: instead.destination } };
  const became = conversationEnd(flow);
  return { flow, became, by: became === 'refused' ? { is: 'reset', from: flow.destination } : null };
}
