import { parseAddress } from '../net/index.ts';

const HOST = new RegExp(
  String.raw`(?:\b[a-z][a-z0-9+.-]{0,30}:\/\/)?(?:\[[0-9a-f:.]{2,45}\]|` +
    String.raw`(?<![a-z0-9@.-])(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.){1,20}[a-z]{2,63}` +
    String.raw`(?![a-z0-9@])|(?<![\w.])\d{1,3}(?:\.\d{1,3}){3})` +
    String.raw`(?:\s{0,3}[:;]\s{0,3}\d{1,5})?(?:\/\S*)?`,
  'gi',
);

/**
 * The names and addresses of a line, with port and path where they carry them, in their order; and those that
 * are listed with the first, `A and B`, `A, B or C`. Mail addresses, versions, names of files and the address
 * that stands for all are none.
 */
export function hostsIn(text: string): {
  readonly hosts: readonly string[];
  readonly listed: readonly string[];
} {
  const found = [...text.matchAll(HOST)].filter((m) => !isFile(m[0]) && !isEvery(m[0]));
  return { hosts: found.map(bare), listed: listedWith(text, found) };
}

const bare = (m: RegExpMatchArray): string => m[0].replace(/[.,;]{1,9}$/, '');

function listedWith(text: string, hosts: readonly RegExpMatchArray[]): string[] {
  const out: string[] = [];
  for (const [i, host] of hosts.entries()) {
    const before = hosts[i - 1];
    if (!before) continue;
    const between = text.slice((before.index ?? 0) + before[0].length, host.index);
    if (!/^[\s,]{0,9}(?:,|and|or|und|oder|et|y|&)\s{0,9}$/i.test(between)) break;
    out.push(bare(host));
  }
  return [...new Set(out)];
}

/** A program, a picture or a file of settings, and no name of a machine. */
const isFile = (text: string): boolean =>
  /^[^:/]+\.(?:exe|dll|png|jpe?g|gif|ya?ml|json|conf|cfg|ini|txt|log|pdf|zip|docx?)$/i.test(text);

/** What a program listens on is nothing that anybody dials (RFC 1122 §3.2.1.3). */
const isEvery = (text: string): boolean => parseAddress(text)?.bits === 0n;
