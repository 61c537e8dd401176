import { nth } from '../../place/index.ts';
import { known, open, type Fact, type HostRowRecord, type Problem } from '../../facts/index.ts';
import { linesOf, type Line } from '../text.ts';
import { problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';
import {
  YES,
  NO,
  IN,
  OUT,
  ANY,
  OPEN,
  hostRow,
  profileFact,
  actionOf,
  enabledOf,
  directionOf,
  protocolOf,
  portsText,
  addressesOf,
  profilesOf,
  categoryFact,
} from './hostFirewall.ts';
import { bareProfiles, COLUMN, profileBlocks } from './netshProfiles.ts';

/**
 * Rules and profiles as the system's own shell lists them, in any language: the order of the lines in a block
 * is fixed, the words are not. The network's category is taken along where it stands in the same paste.
 */
export const netsh: Reader = {
  format: 'netsh-rules',
  title: 'rules and profiles of the host firewall (netsh)',
  recognise: (text) =>
    /^-{40,}\s*$/m.test(text) &&
    (profileBlocks(text).length > 0 ||
      bareProfiles(text).length > 0 ||
      blocksOf(text).some((b) => b.length >= 8 && switchOf(b) > 0))
      ? 0.97
      : 0,
  read(text) {
    const profiles = profileBlocks(text);
    const facts: Fact[] = profiles.map((p) =>
      profileFact(p.line, p.name, p.on, p.in, p.out, { ignoresRows: p.ignoresRows }),
    );
    const problems: Problem[] = [];
    const bare = bareProfiles(text);
    problems.push(...bare.map((line) => problemAt(line, 'profile-policy')));
    const heads = new Set([...profiles.map((p) => p.line.number), ...bare.map((l) => l.number)]);
    for (const block of blocksOf(text)) {
      if (heads.has(nth(block, 0).line.number)) continue;
      const row = rowOf(block);
      if (row) facts.push(row);
      else problems.push(problemAt(nth(block, 0).line, 'rule-cut'));
    }
    for (const line of linesOf(text)) {
      const category = /^NetworkCategory\s*:\s*(\w+)\s*$/.exec(line.text)?.[1];
      if (category) facts.push(categoryFact(line, category, ''));
    }
    const hasRows = facts.some((f) => f.kind === 'host-row');
    // The shell ends a listing with a word of its own; without it the rest may be missing.
    const isEnded = linesOf(text).some((l) => /^ok\.?$/i.test(l.text.trim()));
    return {
      format: 'netsh-rules',
      facts,
      problems: [...problems, ...strayLines(text)].sort((a, b) => a.line - b.line),
      covers: hasRows ? ['host-rows'] : [],
      ...(hasRows && !isEnded ? { gaps: ['cut'] as const } : {}),
    };
  },
};

/**
 * Where the block says whether it is switched on, followed by its direction; a description may stand before.
 */
const switchOf = (block: readonly BlockLine[]): number =>
  block.findIndex(
    (b, i) =>
      i > 0 &&
      i < 4 &&
      (YES.test(b.value) || NO.test(b.value)) &&
      (IN.test(block[i + 1]?.value ?? '') || OUT.test(block[i + 1]?.value ?? '')),
  );

/**
 * Name, [description,] enabled, direction, profiles, group, own address, their address, protocol, [own port,
 * their port,] …, action.
 */
function rowOf(block: readonly BlockLine[]): Fact | null {
  const first = switchOf(block);
  const get = (i: number): string => block[first + i]?.value ?? '';
  if (first < 0 || block.length < first + 8) return null;
  const protocol = protocolOf(get(6));
  const withPorts = protocol === 'tcp' || protocol === 'udp';
  const rest = block.slice(first + (withPorts ? 9 : 7));
  if (rest.length < 1) return null;
  const action = actionOf(nth(rest, rest.length - 1).value);
  // The short form ends with two lines (crossing the translation, action); the long one has program, kinds of
  // interface and security between.
  const long = rest.length > 2;
  const program = long
    ? rest.slice(1, -1).find((b) => /[\\/]|\.exe$/i.test(b.value) || /^system$/i.test(b.value))?.value
    : undefined;
  const security = long ? rest.find((b) => OPEN.test(b.value)) : undefined;
  // Kinds of interface and services narrow a row down; the line before the last only says where the rule is
  // kept.
  const narrow = long
    ? rest
        .slice(1, -2)
        .find((b) => b.value !== '' && b.value !== program && b !== security && !ANY.test(b.value))
    : undefined;
  const isAllowing = 'is' in action && action.is === 'allow';
  return hostRow(nth(block, 0).line, {
    name: nth(block, 0).value,
    enabled: enabledOf(get(0)),
    direction: directionOf(get(1)),
    profiles: profilesOf(get(2)),
    localAddresses: known(addressesOf(get(4))),
    remoteAddresses: known(addressesOf(get(5))),
    protocol: known(protocol),
    localPorts: known(withPorts ? portsText(get(7)) : null),
    remotePorts: known(withPorts ? portsText(get(8)) : null),
    program: long ? known(program ?? null) : open({ doubt: 'not-shown', fields: ['program'] }),
    action,
    further: furtherOf(
      long && !security && isAllowing ? rest[rest.length - 2]?.value : undefined,
      narrow?.value,
    ),
  });
}

function furtherOf(security: string | undefined, narrow: string | undefined): HostRowRecord['further'] {
  if (security !== undefined) return open({ doubt: 'word', field: 'security', text: security });
  return narrow === undefined ? known(null) : open({ doubt: 'narrowed', text: narrow });
}

/** Lines inside a block of rules that are neither a label with its value nor the rest of a value. */
function strayLines(text: string): Problem[] {
  const out: Problem[] = [];
  let isInside = false;
  let before = '';
  for (const line of linesOf(text)) {
    if (/^-{20,}\s*$/.test(line.text)) isInside = true;
    else if (line.text.trim() === '' || /^ok\.?$/i.test(line.text.trim())) isInside = false;
    else if (
      isInside &&
      !LABELLED.test(line.text) &&
      !continues(before, line.text) &&
      !COLUMN.test(line.text)
    )
      out.push(problemAt(line, 'no-listing-line'));
    before = line.text;
  }
  return out;
}

const LABELLED = /^(\S[^:]{0,60}):(.*)/;

/** Consoles cut lines at their width; a list that goes on ends with a comma. */
const WIDTH = 79;

const continues = (before: string, text: string): boolean =>
  !LABELLED.test(text) &&
  /^[\da-fA-F.:/,-]+$/.test(text.trim()) &&
  (before.length >= WIDTH || before.trimEnd().endsWith(','));

interface BlockLine {
  readonly label: string;
  value: string;
  readonly line: Line;
}

/** Blocks of `label: value` lines; a ruler of dashes stands below each name. */
function blocksOf(text: string): BlockLine[][] {
  const out: BlockLine[][] = [];
  let current: BlockLine[] | null = null;
  let last: BlockLine | null = null;
  let whole = '';
  for (const line of linesOf(text)) {
    if (/^-{20,}\s*$/.test(line.text)) {
      if (last) out.push((current = [last]));
      continue;
    }
    const m = LABELLED.exec(line.text);
    if (!m) {
      if (line.text.trim() === '') current = null;
      else if (last && current && continues(whole, line.text)) {
        last.value += line.text.trim();
        whole = line.text;
      }
      continue;
    }
    whole = line.text;
    last = { label: nth(m, 1), value: nth(m, 2).trim(), line };
    current?.push(last);
  }
  return out;
}
