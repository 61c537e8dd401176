import { strFromU8 } from 'fflate';

/** What a file turns out to be when it is looked at as text. */
export type Decoded = { readonly text: string } | { readonly notText: string };

/** Signatures of common files that are no text; the message says what to send instead. */
const SIGNATURES: readonly (readonly [string, readonly number[]])[] = [
  ['a PNG picture', [0x89, 0x50, 0x4e, 0x47]],
  ['a JPEG picture', [0xff, 0xd8, 0xff]],
  ['a GIF picture', [0x47, 0x49, 0x46, 0x38]],
  ['a PDF document', [0x25, 0x50, 0x44, 0x46]],
  ['a zip archive', [0x50, 0x4b, 0x03, 0x04]],
  ['a gzip archive', [0x1f, 0x8b]],
  ['a packet capture', [0xd4, 0xc3, 0xb2, 0xa1]],
  ['a packet capture', [0xa1, 0xb2, 0xc3, 0xd4]],
  ['a packet capture', [0x0a, 0x0d, 0x0d, 0x0a]],
  ['a program', [0x7f, 0x45, 0x4c, 0x46]],
  ['a program', [0x4d, 0x5a]],
];

/**
 * Decodes UTF-8 and UTF-16 (with or without byte order mark); anything with NUL bytes besides is not text.
 */
export function decodeText(bytes: Uint8Array): Decoded {
  for (const [name, magic] of SIGNATURES) if (magic.every((b, i) => bytes[i] === b)) return { notText: name };
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { text: utf16(bytes, 2, true) };
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { text: utf16(bytes, 2, false) };
  const start = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
  const head = bytes.subarray(start, start + 4096);
  const zeros = head.reduce((n, b) => n + (b === 0 ? 1 : 0), 0);
  if (zeros > head.length * 0.3 && zeros < head.length * 0.6) return { text: utf16(bytes, 0, head[1] === 0) };
  if (zeros > 0) return { notText: 'binary data' };
  return { text: strFromU8(start === 0 ? bytes : bytes.subarray(start)) };
}

function utf16(bytes: Uint8Array, from: number, littleEndian: boolean): string {
  const parts: string[] = [];
  for (let at = from; at + 1 < bytes.length; at += 8192) {
    const units: number[] = [];
    for (let i = at; i < Math.min(at + 8192, bytes.length - 1); i += 2)
      units.push(littleEndian ? bytes[i]! | (bytes[i + 1]! << 8) : (bytes[i]! << 8) | bytes[i + 1]!);
    parts.push(String.fromCharCode(...units));
  }
  return parts.join('');
}
