import { formatAddress, parseAddress } from '../../net/index.ts';
import { CLOSED, SPACE } from '../byte.ts';

export const KERNEL = new TextEncoder().encode('kernel:');

export function behindBracket(b: Uint8Array, from: number, to: number): number {
  let at = from;
  while (at < to && b[at] !== CLOSED) at++;
  return Math.min(at + 1, to);
}

/** `[   12.345678]`, as the kernel marks its lines; the words of a rule may begin with a bracket as well. */
export function isUptime(b: Uint8Array, from: number): boolean {
  let at = from;
  while (b[at] === SPACE) at++;
  return b[at]! >= 48 && b[at]! <= 57;
}

export function isKernel(b: Uint8Array, at: number): boolean {
  for (let i = 0; i < KERNEL.length; i++) if (b[at + i] !== KERNEL[i]) return false;
  return true;
}

/** Where `kernel:` stands. */
export function kernelAt(b: Uint8Array, from: number, to: number): number {
  // The time and the name of the machine come first.
  for (let at = from + 8; at + KERNEL.length <= to; at++) if (isKernel(b, at)) return at;
  return -1;
}

export function lastWord(b: Uint8Array, from: number, to: number): number {
  let at = to;
  while (at > from && b[at - 1] === SPACE) at--;
  while (at > from && b[at - 1] !== SPACE) at--;
  return at;
}

export function wordEnd(b: Uint8Array, from: number): number {
  let at = from;
  while (b[at]! > SPACE) at++;
  return at;
}

/** The log writes IPv6 in full (RFC 5952 has the short form). */
export function shortened(text: string): string {
  const parsed = parseAddress(text);
  return parsed ? formatAddress(parsed) : text;
}
