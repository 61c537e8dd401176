import { trafficAim, type TrafficView } from '@bright-ferry/core/views';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { TrafficReply, TrafficRequest } from '../workers/traffic.worker.ts';
import { useHistory } from './history.ts';

/** One record of traffic that is being read, or was. */
export interface TrafficSource {
  readonly key: number;
  readonly name: string;
  readonly blob: Blob;
  /** Whether it is a piece of the case; else it was brought only to be looked at. */
  readonly isEvidence: boolean;
  /** Bytes read so far. */
  readonly done: number;
  readonly state: 'waits' | 'reads' | 'read' | 'stopped' | 'unknown' | 'failed';
  readonly why: string;
  readonly view: TrafficView | null;
}

/** Records of traffic of any size, read one after the other in a worker of their own. */
export const useTraffic = defineStore('traffic', () => {
  const history = useHistory();
  const sources = shallowRef<readonly TrafficSource[]>([]);
  const selected = ref(0);
  const current = computed(() => sources.value[selected.value] ?? null);
  let worker: Worker | null = null;
  let isOpen = false;

  const patch = (key: number, changes: Partial<TrafficSource>): void => {
    sources.value = sources.value.map((s) => (s.key === key ? { ...s, ...changes } : s));
  };

  /** Begins anew: what is brought from now on waits for its case. */
  function begin(): void {
    isOpen = false;
    stop();
    sources.value = [];
    selected.value = 0;
  }

  /** The case is there: its logs and captures come first, then what was brought meanwhile. */
  function open(): void {
    const state = history.current;
    const brought = sources.value;
    const own = (state?.document.evidence ?? []).flatMap(({ file }): TrafficSource[] => {
      const bytes = state?.files.get(file);
      return bytes ? [sourceOf(file.split('/').pop() ?? file, new Blob([bytes as BlobPart]), true)] : [];
    });
    if (brought.length > 0) selected.value += own.length;
    sources.value = [...own, ...brought];
    isOpen = true;
    next();
  }

  function bring(file: File): void {
    sources.value = [...sources.value, sourceOf(file.name, file, false)];
    selected.value = sources.value.length - 1;
    next();
  }

  /** Reads what waits, one at a time. */
  function next(): void {
    if (worker || !isOpen) return;
    const source = sources.value.find((s) => s.state === 'waits');
    const document = history.document;
    if (!source || !document) return;
    const { key } = source;
    patch(key, { state: 'reads' });
    worker = new Worker(new URL('../workers/traffic.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<TrafficReply>) => take(key, data));
    worker.addEventListener('error', (event) => take(key, { is: 'failed', why: event.message }));
    const { endpoints, client, moments = [] } = trafficAim(document);
    const aim = { endpoints: endpoints.map((e) => ({ ...e })), client, moments: [...moments] };
    const request: TrafficRequest = { blob: source.blob, aim, now: Date.now() };
    worker.postMessage(request);
  }

  function take(key: number, reply: TrafficReply): void {
    if (reply.is === 'progress') {
      patch(key, { done: reply.done, ...(reply.view ? { view: reply.view } : {}) });
      return;
    }
    const isEvidence = sources.value.some((s) => s.key === key && s.isEvidence);
    // A piece of the case that is no record of traffic is none of this page.
    if (reply.is === 'unknown' && isEvidence) sources.value = sources.value.filter((s) => s.key !== key);
    else if (reply.is === 'read') patch(key, { state: 'read', view: reply.view });
    else patch(key, { state: reply.is, ...(reply.is === 'failed' ? { why: reply.why } : {}) });
    end();
    next();
  }

  function end(): void {
    worker?.terminate();
    worker = null;
  }

  /** Ends what is being read; what was counted so far stays. */
  function stop(): void {
    const source = sources.value.find((s) => s.state === 'reads');
    end();
    if (!source) return;
    patch(source.key, { state: 'stopped' });
    next();
  }

  return { sources, selected, current, begin, open, bring, stop };
});

let keys = 0;

const sourceOf = (name: string, blob: Blob, isEvidence: boolean): TrafficSource => ({
  key: keys++,
  name,
  blob,
  isEvidence,
  done: 0,
  state: 'waits',
  why: '',
  view: null,
});
