import { isCapture } from '@bright-ferry/core/reading';
import { CaptureReader, logLayout, LogReader } from '@bright-ferry/core/traffic';
import {
  captureView,
  logView,
  MOST_ROWS,
  wantedOf,
  type TrafficAim,
  type TrafficView,
} from '@bright-ferry/core/views';

/** A record to be read, and what it is looked at for. */
export interface TrafficRequest {
  readonly blob: Blob;
  readonly aim: TrafficAim;
  /** Milliseconds since 1970. */
  readonly now: number;
}

export type TrafficReply =
  | { readonly is: 'progress'; readonly done: number; readonly view: TrafficView | null }
  | { readonly is: 'read'; readonly view: TrafficView }
  /** No reader knows it. */
  | { readonly is: 'unknown' }
  | { readonly is: 'failed'; readonly why: string };

const HEAD = 64 << 10;
/** Milliseconds between two words about how far it is, and between two views of what is read so far. */
const PACE = 100;
const LOOK = 800;

const say = (reply: TrafficReply): void => self.postMessage(reply);

self.addEventListener('message', ({ data }: MessageEvent<TrafficRequest>) => {
  read(data).catch((error: unknown) =>
    say({ is: 'failed', why: error instanceof Error ? error.message : String(error) }),
  );
});

interface Stream {
  push(chunk: Uint8Array): void;
  end(): void;
  view(): TrafficView;
}

async function read({ blob, aim, now }: TrafficRequest): Promise<void> {
  const head = new Uint8Array(await blob.slice(0, HEAD).arrayBuffer());
  const stream = streamFor(head, aim, now);
  if (!stream) {
    say({ is: 'unknown' });
    return;
  }
  const reader = blob.stream().getReader();
  let done = 0;
  let said = performance.now();
  let looked = said;
  for (let next = await reader.read(); !next.done; next = await reader.read()) {
    stream.push(next.value);
    done += next.value.length;
    const at = performance.now();
    if (at - said < PACE) continue;
    said = at;
    const isLook = at - looked > LOOK;
    if (isLook) looked = at;
    say({ is: 'progress', done, view: isLook ? stream.view() : null });
  }
  stream.end();
  say({ is: 'read', view: stream.view() });
}

function streamFor(head: Uint8Array, aim: TrafficAim, now: number): Stream | null {
  if (isCapture(head)) {
    const reader = new CaptureReader();
    return {
      push: (chunk) => reader.push(chunk),
      end: () => reader.end(),
      view: () => captureView(reader.summary(), aim),
    };
  }
  const layout = logLayout(new TextDecoder().decode(head));
  if (!layout) return null;
  const reader = new LogReader(layout, { now, wanted: wantedOf(aim) });
  return {
    push: (chunk) => reader.push(chunk),
    end: () => reader.end(),
    view: () => logView(reader.summary(MOST_ROWS), aim),
  };
}
