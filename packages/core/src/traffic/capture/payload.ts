/** Payloads that are captured shorter than this are too alike to tell datagrams apart, bytes. */
const LEAST_SAID = 8;
const MOST_SAID = 64;

/**
 * 32 bits of the length and the beginning of a UDP datagram’s payload (FNV-1a); null: too little of it is
 * there.
 * @param at where its header begins (RFC 768)
 */
export function payloadHash(b: Uint8Array, at: number, end: number): number | null {
  const from = at + 8;
  const length = ((b[at + 4] ?? 0) << 8) | (b[at + 5] ?? 0);
  const until = Math.min(end, at + length, from + MOST_SAID);
  if (until - from < LEAST_SAID) return null;
  let h = 0x811c9dc5 ^ length;
  for (let i = from; i < until; i++) h = Math.imul(h ^ (b[i] ?? 0), 0x01000193);
  return h >>> 0;
}
