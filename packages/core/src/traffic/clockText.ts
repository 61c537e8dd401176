/** A moment of a record's own clock as people read it: `2026-11-24 17:02:11`; null where it has none. */
export const clockText = (seconds: number): string | null =>
  Number.isNaN(seconds) ? null : new Date(seconds * 1000).toISOString().slice(0, 19).replace('T', ' ');
