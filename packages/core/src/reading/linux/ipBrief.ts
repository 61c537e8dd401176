import { nth } from '../../place/index.ts';
import { parseAddress } from '../../net/index.ts';
import type { AddressFact, InterfaceFact, Problem } from '../../facts/index.ts';
import { spanOf, type Line } from '../text.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const STATES = /^(UP|DOWN|UNKNOWN|LOWERLAYERDOWN|NOTPRESENT|TESTING|DORMANT)$/;
const MAC = /^[0-9a-f]{2}(:[0-9a-f]{2}){5}$/i;

/** `ip -br addr` and `ip -br link`: name, state, then addresses or the link address with flags. */
export const ipBrief: Reader = {
  format: 'ip-brief',
  title: 'interfaces in short (ip -br)',
  recognise(text) {
    const lines = written(text.slice(0, 20_000));
    const hits = lines.filter((l) => brief(l) !== null).length;
    return hits > 0 && hits * 2 > lines.length ? 0.88 : 0;
  },
  read(text) {
    const facts: (InterfaceFact | AddressFact)[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      const row = brief(line);
      if (row) facts.push(...row);
      else problems.push(problemAt(line, 'no-brief-line'));
    }
    // `-br link` says nothing about addresses.
    return {
      format: 'ip-brief',
      facts,
      problems,
      covers: facts.some((f) => f.kind === 'address') ? ['addresses'] : [],
    };
  },
};

function brief(line: Line): (InterfaceFact | AddressFact)[] | null {
  const [full, state, ...rest] = line.text.trim().split(/\s+/);
  if (!full || !state || !STATES.test(state)) return null;
  const name = nth(full.split('@'), 0);
  const flags = /<([A-Z0-9_,-]*)>/.exec(line.text)?.[1]?.split(',') ?? null;
  const mac = rest.find((w) => MAC.test(w));
  const loopback = flags ? flags.includes('LOOPBACK') : name === 'lo';
  const head: InterfaceFact = {
    kind: 'interface',
    at: spanOf(line, name),
    name,
    operstate: state.toLowerCase(),
    // `DOWN` without flags is a link that is switched off, or one without carrier.
    ...(flags || state !== 'DOWN' ? { adminUp: flags?.includes('UP') ?? true } : {}),
    loopback,
    ...(mac ? { mac } : {}),
    ...(flags?.includes('NOARP') ? { noNeighbours: true } : {}),
    ...carrierOf(flags ?? null, state),
  };
  const out: (InterfaceFact | AddressFact)[] = [head];
  let peer: string | null = null;
  for (const word of rest) {
    const match = /^([0-9a-fA-F.:]+)(?:\/(\d{1,3}))?$/.exec(word);
    const parsed = match ? parseAddress(nth(match, 1)) : null;
    if (word === 'peer') {
      peer = '';
      continue;
    }
    if (!parsed || !match || MAC.test(word)) continue;
    let prefix;
    if (match[2] === undefined) prefix = parsed.family === 4 ? 32 : 128;
    else prefix = Number(match[2]);
    const last = out[out.length - 1];
    if (peer !== null && last?.kind === 'address') {
      out[out.length - 1] = { ...last, peer: nth(match, 1), prefix };
      peer = null;
      continue;
    }
    out.push({
      kind: 'address',
      at: spanOf(line, nth(match, 1)),
      interface: name,
      family: parsed.family,
      address: nth(match, 1),
      prefix,
      ...scopeOf(nth(match, 1), loopback),
    });
  }
  return out;
}

function scopeOf(address: string, isLoopback: boolean): { readonly scope?: string } {
  if (isLoopback) return { scope: 'host' };
  return /^fe[89ab]/i.test(address) ? { scope: 'link' } : {};
}

/**
 * Whether there is a cable: from the flags where they are listed, else from the state, which does not always
 * tell.
 */
function carrierOf(
  flags: readonly string[] | string | null,
  state: string | undefined,
): { readonly carrier?: boolean } {
  if (flags?.includes('UP')) return { carrier: flags.includes('LOWER_UP') || !flags.includes('NO-CARRIER') };
  if (state === 'UP') return { carrier: true };
  return state === 'LOWERLAYERDOWN' || (!flags && state === 'DOWN') ? { carrier: false } : {};
}

/** The alias name stands last before the lifetimes: `scope global eno1:games`. */
function labelOf(rest: string): { label?: string } {
  const word = nth(rest.split('\\'), 0).trim().split(/\s+/).pop() ?? '';
  return /^[^\s:]+:\S+$/.test(word) ? { label: word } : {};
}

const ONELINE = new RegExp(
  String.raw`^(\d+):\s+([^\s@]+)(?:@\S+)?\s+inet(6?)\s+` +
    String.raw`([0-9a-fA-F.:]+)(?:\s+peer\s+([0-9a-fA-F.:]+))?(?:\/(\d{1,3}))?\s(.*)`,
);

/** `ip -o addr`: one address a line, continued parts after a backslash. */
export const ipOneline: Reader = {
  format: 'ip-oneline',
  title: 'addresses, one a line (ip -o addr)',
  recognise: (text) => (written(text.slice(0, 5000)).some((l) => ONELINE.test(l.text)) ? 0.92 : 0),
  read(text) {
    const facts: (InterfaceFact | AddressFact)[] = [];
    const problems: Problem[] = [];
    const seen = new Set<string>();
    for (const line of written(text)) {
      const match = ONELINE.exec(line.text);
      if (!match) {
        problems.push(problemAt(line, 'no-one-line-address'));
        continue;
      }
      const [, index, , six, , peer, length] = match;
      const [name, address, rest] = [nth(match, 2), nth(match, 4), nth(match, 7)];
      if (!parseAddress(address)) {
        problems.push(problemAt(line, 'address-unreadable'));
        continue;
      }
      const scope = /\bscope (\w+)/.exec(rest)?.[1] ?? 'global';
      if (!seen.has(name))
        facts.push({
          kind: 'interface',
          at: spanOf(line, name),
          name: name,
          index: Number(index),
          loopback: scope === 'host',
        });
      seen.add(name);
      facts.push({
        kind: 'address',
        at: spanOf(line, address),
        interface: name,
        family: six ? 6 : 4,
        address: address,
        prefix: Number(length ?? (six ? 128 : 32)),
        scope,
        ...(peer ? { peer } : {}),
        ...(/\bsecondary\b/.test(rest) ? { secondary: true } : {}),
        ...labelOf(rest),
        ...(/\b(tentative|dadfailed)\b/.test(rest) ? { unusable: true } : {}),
      });
    }
    return { format: 'ip-oneline', facts, problems, covers: ['addresses'] };
  },
};
