import {
  withChange,
  withSettings,
  withWatched,
  withObservation,
  withProtocol,
  type Observation,
} from '@bright-ferry/core/case';
import type { AskKind } from '@bright-ferry/core/asks';
import type { MendView, TrialView, VantageCell } from '@bright-ferry/core/views';
import type { Edits } from './types.ts';

/** What people saw and did while the case is open. */
export function seenEdits(edit: Edits) {
  /** What the client, or whoever tried, sees now. */
  const observe = (trial: TrialView, outcome: Observation['outcome'], other = false): Promise<void> =>
    edit(
      (d) =>
        withObservation(d, {
          vantage: trial.vantage,
          from: trial.from,
          to: trial.to,
          outcome,
          at: new Date().toISOString(),
          ...(other ? { other } : {}),
        }),
      'Noted what was seen.',
    );

  /** What was seen from one place of the grid. */
  const observeFrom = (
    { vantage, from, to }: Pick<VantageCell, 'vantage' | 'from' | 'to'>,
    outcome: Observation['outcome'],
    other = false,
  ): Promise<void> =>
    edit(
      (d) =>
        withObservation(d, {
          vantage,
          ...(from === null ? {} : { from }),
          to: to ?? '',
          outcome,
          at: new Date().toISOString(),
          ...(other ? { other } : {}),
        }),
      'Noted what was seen.',
    );

  /** Which protocol a port is for, where nobody had said. */
  const setProtocol = (port: number, protocols: readonly ('tcp' | 'udp')[]): Promise<void> =>
    edit(
      (d) => withProtocol(d, port, protocols),
      `Port ${port} is for ${protocols.join(' and ').toUpperCase()}.`,
    );

  /** The client tries now, while that is being recorded. */
  async function triesNow(stop: string, yields: AskKind): Promise<void> {
    const at = new Date().toISOString();
    await edit(
      (d) => withWatched(d, { stop, yields, at }),
      'Noted: they try now. Bring what was recorded, and it is looked for at this moment.',
    );
  }

  /** The owner says that a mend was made: what is known of that place is from before. */
  async function changeMade({ stop, shownBy, title, settings }: MendView): Promise<void> {
    if (shownBy === null) return;
    const at = new Date().toISOString();
    await edit(
      (d) => {
        const before = d.path.find((s) => s.id === stop)?.settings;
        const change = { stop, yields: shownBy, title, at };
        return settings && before
          ? withChange(withSettings(d, stop, settings), { ...change, before })
          : withChange(d, change);
      },
      'Noted as ' +
        'made. ' +
        'What was ' +
        'known of ' +
        'it is ' +
        'from ' +
        'before; ' +
        'let the ' +
        'client ' +
        'try, or ' +
        'send the ' +
        'listing ' +
        'once ' +
        'more.',
    );
  }

  return { observe, observeFrom, setProtocol, triesNow, changeMade };
}
