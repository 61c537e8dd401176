import type { CapturedFlow } from './flow.ts';

/** What a capture holds, at any time while it is read. */
export interface CaptureSummary {
  readonly type: 'pcap' | 'pcapng';
  readonly packets: number;
  /** Packets that are IP, whole enough to be told apart. */
  readonly understood: number;
  /** Packets that the capture has cut. */
  readonly cut: number;
  readonly links: readonly number[];
  readonly names: readonly string[];
  readonly first: number;
  readonly last: number;
  readonly flows: readonly CapturedFlow[];
  /** Packets of flows that are not kept apart any more. */
  readonly beyond: number;
  /** Byte at which the file is damaged or breaks off; null: it is whole, as far as it is read. */
  readonly brokenAt: number | null;
}
