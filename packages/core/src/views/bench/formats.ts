import { READERS } from '../../reading/index.ts';

/** What a format is called, for people. */
export function formatTitle(format: string | null): string {
  if (format === 'several') return 'several outputs in one paste';
  if (format === 'capture') return 'a packet capture';
  return READERS.find((r) => r.format === format)?.title ?? 'not understood, kept as a note';
}
