import type { Fact } from '../facts/index.ts';
import { readText } from '../reading/index.ts';

type Forward = Extract<Fact, { kind: 'forward' }>;

/** What a row says, in short; what is open in it stands as `?`. */
function short(fact: Forward): string {
  const said = <T>(value: { readonly is: T } | { readonly open: unknown }, text: (v: T) => string): string =>
    'is' in value ? text(value.is) : '?';
  const ports = (list: readonly { first: number; last: number }[] | 'same'): string =>
    list === 'same'
      ? 'same'
      : list.map((p) => (p.first === p.last ? p.first : `${p.first}-${p.last}`)).join();
  const from = said(fact.outside, ports);
  const to = `${said(fact.target, String)}:${said(fact.inside, ports)}`;
  const state = said(fact.enabled, (isOn) => (isOn ? '' : ' off'));
  const name = fact.name === undefined ? '' : `${fact.name}: `;
  const limits = fact.narrowed.length > 0 ? ' limited' : '';
  return `${name}${said(fact.protocol, String)} ${from} to ${to}${state === '?' ? ' on?' : state}${limits}`;
}

/** The forwards that a text tells of. */
export const rowsOf = (text: string): string[] =>
  (readText(text)?.facts ?? []).flatMap((f) => (f.kind === 'forward' ? [short(f)] : []));
