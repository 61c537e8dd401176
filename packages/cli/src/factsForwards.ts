import type { FilterForward } from '@bright-ferry/core/devices';
import { doubtText } from '@bright-ferry/core/words';
import { type ForwardFact, saidOr, openFields } from '@bright-ferry/core/facts';

/** A destination translation: a row for each range; single ports of an iptables list stay together. */
export function forwardRows(f: FilterForward): object[] {
  const comment = /--comment "((?:[^"\\]|\\.)*)"|comment "([^"]*)"|\/\* (.*?) \*\//.exec(f.rule.text);
  const row = (ports: object): object => ({
    protocol: f.protocol,
    outside: f.outside,
    iif: f.iif,
    ...(f.iifNot ? { iifNot: f.iifNot } : {}),
    ...(f.sources ? { sources: f.sources } : {}),
    ...ports,
    to: f.to,
    toPorts: f.toPorts,
    ...(comment ? { comment: comment[1] ?? comment[2] ?? comment[3]! } : {}),
    line: f.rule.source?.line,
  });
  const ranges = writtenRanges(f.rule.text) ?? f.outsidePorts;
  const list =
    /multiport|dports/.test(f.rule.text) && ranges.length > 1 && ranges.every((p) => p.first === p.last);
  if (list) return [row({ outsidePortList: ranges.map((p) => p.first) })];
  return ranges.length === 0 ? [row({})] : ranges.map((p) => row({ outsidePorts: [p.first, p.last] }));
}

/**
 * The ports of an nft set as they stand in the rule: as a set of numbers, neighbours would have grown
 * together.
 */

export function writtenRanges(text: string): { first: number; last: number }[] | null {
  const set = /\bdport \{ ?([\d\s,-]+?) ?\}/.exec(text)?.[1];
  if (set === undefined) return null;
  return set
    .split(',')
    .map((part) => part.trim().split('-').map(Number))
    .map(([first, last]) => ({ first: first!, last: last ?? first! }));
}

/** A row of a copied table: one entry for each range of outside ports; `open` tells what it does not show. */
export function forwardFactRows(f: ForwardFact): object[] {
  const inside = saidOr(f.inside, null);
  const doubts = [...openFields(f), ...f.narrowed].map(doubtText);
  const row = (ports: object): object => ({
    ...(f.name === undefined ? {} : { name: f.name }),
    protocol: saidOr(f.protocol, null),
    ...ports,
    insideAddress: saidOr(f.target, f.device),
    enabled: saidOr(f.enabled, null),
    applied: f.applied,
    sources: saidOr(f.sources, null),
    ...('is' in f.outsideAddress && f.outsideAddress.is === null
      ? {}
      : { outsideAddress: saidOr(f.outsideAddress, null) }),
    ...(doubts.length > 0 ? { open: doubts } : {}),
    line: f.at.line,
  });
  if (!('is' in f.outside)) return [row({ outsideFirst: null, outsideLast: null })];
  return f.outside.is.map((outside, i) => {
    const inner = inside === 'same' ? outside : inside?.[i];
    return row({
      outsideFirst: outside.first,
      outsideLast: outside.last,
      insideFirst: inner?.first ?? null,
      insideLast: inner?.last ?? null,
    });
  });
}
