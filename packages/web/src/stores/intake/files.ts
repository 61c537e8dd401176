import { decodeText } from '@bright-ferry/core/case';

/** Texts above this are not taken in whole, bytes. */
export const MOST_TEXT = 32 * 1024 * 1024;

/** Why a file is not taken in, by its size and its first bytes; null where it may be text. */
export async function whyRefused(f: File): Promise<string | null> {
  const head = new Uint8Array(await f.slice(0, 4096).arrayBuffer());
  const looks = decodeText(head);
  if ('notText' in looks && !/capture/.test(looks.notText))
    return (
      `${f.name} is ${looks.notText}, not text. Send the text that the program prints, or a table ` +
      'copied from its page.'
    );
  if (f.size > MOST_TEXT)
    return (
      `${f.name} has ${Math.round(f.size / 1024 / 1024)} MiB; up to ${MOST_TEXT / 1024 / 1024} MiB ` +
      'are taken. Send the part around the time of the try, or bring it to Traffic, which counts ' +
      'logs and captures of any size.'
    );
  return null;
}
