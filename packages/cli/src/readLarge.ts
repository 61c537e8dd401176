import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import { captureFacts, isCapture, logFacts } from '@bright-ferry/core/reading';
import { CaptureReader, logLayout, LogReader } from '@bright-ferry/core/traffic';
import type { Fact, Problem } from '@bright-ferry/core/facts';

/** Larger files are read as streams, where their format can be: bytes. */
const LARGE = 16 << 20;
const HEAD = 64 << 10;
const CHUNK = 256 << 10;
/** Milliseconds between two words about how far it is. */
const PACE = 1000;

export interface LargeReading {
  readonly format: string;
  readonly facts: readonly Fact[];
  readonly problems: readonly Problem[];
}

/** What a stream is read with, until its end. */
interface Stream {
  readonly format: string;
  readonly title: string;
  push(chunk: Uint8Array): void;
  end(): { readonly facts: readonly Fact[]; readonly problems: readonly Problem[] };
}

/**
 * A large log or capture, read piece by piece; null where the file is not large, or its format cannot be read
 * so. Says on standard error what it is and how far it is.
 */
export function readLarge(file: string, say: (text: string) => void): LargeReading | null {
  const opened = openSync(file, 'r');
  try {
    const { size } = fstatSync(opened);
    if (size < LARGE) return null;
    // Of a Buffer the next line break is found with the machine’s own memchr.
    const chunk = Buffer.alloc(CHUNK);
    const first = readSync(opened, chunk, 0, HEAD, null);
    const stream = streamFor(chunk.subarray(0, first));
    if (!stream) return null;
    const mega = (bytes: number): string => (bytes / 1e6).toFixed(0);
    say(`${file}: ${stream.title}, ${mega(size)} MB\n`);
    let done = first;
    let said = Date.now();
    stream.push(chunk.subarray(0, first));
    for (;;) {
      const count = readSync(opened, chunk);
      if (count === 0) break;
      stream.push(count < CHUNK ? chunk.subarray(0, count) : chunk);
      done += count;
      if (Date.now() - said < PACE) continue;
      said = Date.now();
      say(`${file}: ${mega(done)} of ${mega(size)} MB\n`);
    }
    return { format: stream.format, ...stream.end() };
  } finally {
    closeSync(opened);
  }
}

function streamFor(head: Uint8Array): Stream | null {
  if (isCapture(head)) {
    const reader = new CaptureReader();
    return {
      format: 'capture',
      title: 'a packet capture',
      push: (chunk) => reader.push(chunk),
      end() {
        reader.end();
        return captureFacts(reader.summary());
      },
    };
  }
  const layout = logLayout(new TextDecoder().decode(head));
  if (!layout) return null;
  const reader = new LogReader(layout, { now: Date.now() });
  return {
    format: layout === 'w3c' ? 'w3c-log' : 'packet-log',
    title: 'packets that a filter logged',
    push: (chunk) => reader.push(chunk),
    end() {
      reader.end();
      return logFacts(reader.summary());
    },
  };
}
