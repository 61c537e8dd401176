import { accept } from '@bright-ferry/core/proposals';
import { endingStop, type BenchView, type SuspicionView } from '@bright-ferry/core/views';
import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import { Stopped } from '../workers/analyst.ts';
import type { Answers, Question, Questions } from '../workers/protocol.ts';
import { useDesk } from './desk.ts';
import { useHistory } from './history.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';
import { services } from './services.ts';

/** What the workers make of the case on the bench. It follows the case by itself. */
export const useAnalysis = defineStore('analysis', () => {
  const { analyst } = services();
  const history = useHistory();
  const notices = useNotices();
  const selection = useSelection();
  const desk = useDesk();
  const view = shallowRef<BenchView | null>(null);
  /** What may be wrong, once the verdict is there; null: it is not worked out yet. */
  const suspicion = shallowRef<SuspicionView | null>(null);
  const working = ref(false);
  /** Why the case cannot be worked out; null: it can. */
  const failed = ref<string | null>(null);
  let run = 0;
  let newest: Promise<void> = Promise.resolve();

  watch(
    () => history.current,
    (now, before) => {
      if (now?.id !== before?.id) {
        view.value = null;
        suspicion.value = null;
        failed.value = null;
      }
      newest = now ? analyse() : Promise.resolve();
    },
    { flush: 'sync', immediate: true },
  );

  /** Works the verdict out anew; an older answer that comes later is left aside. */
  async function analyse(): Promise<void> {
    const { current } = history;
    if (!current) return;
    const mine = ++run;
    working.value = true;
    try {
      const { endpoint, viewpoint } = selection;
      const next = await analyst.ask('bench', { endpoint, viewpoint }, current);
      if (mine !== run) return;
      view.value = next;
      failed.value = null;
      void desk.note(current.id, current.updatedAt, next);
      void suspect(mine);
      if (!next.stops.some((s) => s.id === selection.openStop)) selection.openStop = endingStop(next);
    } catch (error) {
      if (error instanceof Stopped || mine !== run) return;
      failed.value = failure(error);
      notices.trouble(failed.value, history.canUndo);
    } finally {
      if (mine === run) working.value = false;
    }
  }

  /** What may be wrong comes behind the verdict, and never keeps it waiting. */
  async function suspect(mine: number): Promise<void> {
    const found = await ask('suspicion', {});
    if (mine === run && found) suspicion.value = found;
  }

  /** The verdict of the newest state is there. */
  const settled = (): Promise<void> => newest;

  /**
   * Puts stops that new evidence shows on the crossing, in the step that brought it. Each can be refused
   * where it stands.
   */
  async function putFoundStops(): Promise<void> {
    await settled();
    const found = view.value?.proposals.filter((p) => p.proposal.kind === 'stop') ?? [];
    if (!history.document || found.length === 0) return;
    await history.amend((d) => found.reduce((next, f) => accept(next, f.proposal), d));
    notices.add(found.map((f) => ` On the crossing now: ${f.text}`).join(''));
    await settled();
  }

  /** Looks at another endpoint of the service. */
  async function choose(key: string): Promise<void> {
    selection.endpoint = key;
    await lookAnew();
  }

  /** Tries it from another place: the client, the client over IPv6, a machine beside the server. */
  async function lookFrom(key: string): Promise<void> {
    selection.viewpoint = key;
    await lookAnew();
  }

  async function lookAnew(): Promise<void> {
    selection.rehearsed = null;
    newest = analyse();
    await newest;
    if (view.value) selection.openStop = endingStop(view.value);
  }

  /** Anything else about the case; null where none is open, or where it was stopped. */
  async function ask<K extends Question>(kind: K, question: Questions[K]): Promise<Answers[K] | null> {
    const { current } = history;
    if (!current) return null;
    try {
      return await analyst.ask(kind, question, current);
    } catch (error) {
      if (error instanceof Stopped) return null;
      throw error;
    }
  }

  /** Ends what is being read or worked out; the verdict is then worked out anew. */
  function stop(): void {
    analyst.stop('bench');
    newest = analyse();
  }

  /** Ends the search for what is open from outside. */
  const stopOpenings = (): void => analyst.stop('openings');

  /** Ends the walk through what was answered. */
  const stopShrinking = (): void => analyst.stop('suspects');

  return {
    view,
    suspicion,
    working,
    failed,
    settled,
    putFoundStops,
    choose,
    lookFrom,
    ask,
    stop,
    stopOpenings,
    stopShrinking,
  };
});

function failure(error: unknown): string {
  const what = error instanceof Error ? error.message.split('\n')[0] : String(error);
  return (
    `The verdict could not be worked out: ${what}. ` +
    'Nothing is lost; undo the last step or export the case.'
  );
}
