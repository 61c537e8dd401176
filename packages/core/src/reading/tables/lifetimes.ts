/** What stands for a mapping that does not end. */
export const ENDLESS = /^(?:0|-|–|—|never|permanent|static|infinite|unlimited|forever)?$/i;

const UNIT = { s: 1, m: 60, h: 3600, d: 86_400 } as const;

/** Seconds of `341`, `341 s`, `5 min`, `1h 2m`, `0:05:41`; null for what is no length of time. */
export function secondsOf(text: string): number | null {
  if (ENDLESS.test(text)) return 0;
  const clock = /^(?:(\d+):)?(\d{1,2}):(\d{2})$/.exec(text);
  if (clock) return Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3]);
  const parts = [...text.matchAll(/(\d+)\s*([a-z]*)/gi)];
  const rest = text.replace(/(\d+)\s*([a-z]*)/gi, '').replace(/left|remaining|[\s,]/gi, '');
  if (parts.length === 0 || rest !== '') return null;
  let sum = 0;
  for (const [, count, unit = ''] of parts) {
    const letter = (unit.charAt(0).toLowerCase() || 's') as keyof typeof UNIT;
    if (!(letter in UNIT)) return null;
    sum += Number(count) * UNIT[letter];
  }
  return sum;
}
