import { addressSet, addressUnion, type AddressSet } from '../../net/index.ts';
import { CT_STATE, type Doubt, type Origin, type Program, type Step } from '../../rules/index.ts';
import {
  accept,
  addresses,
  base,
  bits,
  chain,
  doubt,
  drop,
  match,
  names,
  ofRow,
  one,
  portNumbers,
  portsOf,
  prefixOfText,
  programOf,
  protocolMatch,
  rule,
  SettingsError,
  verdict,
  type RuleParts,
} from '../build.ts';
import { type HostSurroundings, programPorts } from './programs.ts';
import type { HostProfilesSettings, HostRow } from './settings.ts';

const WHERE = 'host firewall';

/**
 * A host firewall with profiles. Blocks come first, then allows, then the active profile's default; what was
 * let in is answered. Where the active profile is not known, each possible one is tried.
 * @throws SettingsError for a value that cannot be read
 */
export function hostProfilesProgram(settings: HostProfilesSettings, around: HostSurroundings): Program {
  const known = Object.keys(settings.profiles);
  for (const [i, row] of settings.rows.entries())
    for (const name of row.profiles ?? [])
      if (name !== 'any' && profileNamed(name, known) === null)
        throw new SettingsError(
          `${WHERE}: row ${i + 1}: there is no profile “${name}”; the profiles are ${known.join(', ')}`,
        );
  if (known.length === 0) throw new SettingsError(`${WHERE}: no profile is given`);
  if (settings.active !== undefined && !known.includes(settings.active))
    throw new SettingsError(
      `${WHERE}: the active profile “${settings.active}” is not one of ${known.join(', ')}`,
    );
  const possible = settings.active === undefined ? known : [settings.active];
  const chains = possible.map((p) => ({
    profile: p,
    in: profileChain(p, 'in', settings, around),
    out: profileChain(p, 'out', settings, around),
  }));
  const established = rule(
    'answers',
    match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
    accept,
  );
  const byInterface = (side: 'in' | 'out'): RuleParts[] =>
    [...(around.profileOf ?? [])].flatMap(([device, p]) => {
      const own = chains.find((c) => c.profile === p);
      return own && settings.active === undefined
        ? [
            rule(
              `profile ${p} on ${device}`,
              match({ of: side }, names([device])),
              verdict({ verdict: 'goto', chain: own[side] }),
            ),
          ]
        : [];
    });
  const choose = (side: 'in' | 'out'): RuleParts[] => [
    ...byInterface(side),
    ...chains.map((c, i) =>
      rule(
        `profile ${c.profile}`,
        ...(i < chains.length - 1 ? [doubt({ doubt: 'active-profile' })] : []),
        verdict({ verdict: 'goto', chain: c[side] }),
      ),
    ),
  ];
  const loopback = rule('the machine to itself', match({ of: 'in' }, names(['lo'])), accept);
  // A firewall that is off holds nothing back.
  const isOff = (p: string): boolean => settings.profiles[p]?.on === false && around.perhapsOff === undefined;
  const off = possible.filter(isOff).length;
  const isOpen = settings.silentWhenClosed === undefined || off > 0;
  const closed = settings.silentWhenClosed === false || off === possible.length ? [] : closedPorts(isOpen);
  return programOf(
    [
      base('input', 'filter', 'drop', 'rows inward', [loopback, established, ...choose('in')]),
      base('output', 'filter', 'drop', 'rows outward', [...closed, established, ...choose('out')]),
    ],
    chains.flatMap((c) => [c.in, c.out]),
  );
}

/** Holds back what a port without a listener answers: a reset without data, or “port unreachable”. */
function closedPorts(unknown: boolean): RuleParts[] {
  const asked = unknown ? [doubt({ doubt: 'stealth' })] : [];
  const reset: Step = match({ of: 'and', field: { of: 'tcp-flags' }, mask: 0x04 }, one(4));
  return [
    rule('no reset from a port on which nothing listens', reset, ...asked, drop),
    rule('no “port unreachable” either', match({ of: 'icmp-type', protocol: 1 }, one(3)), ...asked, drop),
    rule(
      'no “port unreachable” either (IPv6)',
      match({ of: 'icmp-type', protocol: 58 }, one(1)),
      ...asked,
      drop,
    ),
  ];
}

/** Profiles are called the same whatever their capitals. */
const profileNamed = (name: string, known: readonly string[]): string | null =>
  known.find((k) => k.toLowerCase() === name.toLowerCase()) ?? null;

function profileChain(
  profile: string,
  direction: 'in' | 'out',
  settings: HostProfilesSettings,
  around: HostSurroundings,
) {
  const own = settings.profiles[profile]!;
  if (own.on === false)
    return chain(`profile ${profile} ${direction}ward, switched off`, [
      rule('the firewall is off on this profile', accept),
    ]);
  if (own.blocksAll && direction === 'in')
    return chain(`profile ${profile} inward, closed`, [rule('nothing comes in, whatever rows say', drop)]);
  const listed = own.ignoresRows ? [] : settings.rows;
  const more: Doubt | undefined = own.ignoresRows ? { doubt: 'policy-rows' } : around.moreRows;
  const rows = listed
    .map((r, i) => ({ r, number: i + 1 }))
    .filter(
      ({ r }) =>
        r.enabled !== false &&
        r.direction === direction &&
        (!r.profiles || r.profiles.some((p) => p === 'any' || profileNamed(p, [profile]) !== null)),
    );
  const ofAction = (action: HostRow['action']): RuleParts[] =>
    rows.filter(({ r }) => r.action === action).flatMap(({ r, number }) => rowRules(r, number, around));
  const perhaps = (of: Doubt | undefined, text: string, then: Step): RuleParts[] =>
    of === undefined ? [] : [rule(text, doubt(of), then)];
  const last = own[direction] === 'allow' ? accept : drop;
  const name = `profile ${profile} ${direction}ward`;
  const listing = [
    ...perhaps(around.perhapsOff, '(the firewall may be off)', accept),
    ...(direction === 'in' ? perhaps(around.perhapsClosed, '(it may let nothing in)', drop) : []),
    ...ofAction('block'),
    ...perhaps(more, '(rows that are not listed may block it)', drop),
    ...ofAction('allow'),
    ...(own[direction] === 'block' ? perhaps(more, '(rows that are not listed may allow it)', accept) : []),
    rule(`no row names it: ${own[direction]} on profile ${profile}`, last),
  ];
  return chain(name, listing, originOf(profile));
}

/** The profiles that Windows has; others are those of another program, which takes no commands of it. */
const originOf = (profile: string): Origin =>
  /^(?:domain|private|public)$/i.test(profile) ? { program: 'profiles', profile } : { program: 'device' };

function scope(
  list: readonly string[] | undefined,
  around: HostSurroundings,
  where: string,
): AddressSet | null {
  if (!list || list.length === 0 || list.includes('any')) return null;
  return addressUnion(
    ...list.map((s) =>
      s === 'local-subnet' ? addressSet(...around.subnets) : addressSet(prefixOfText(s, where)),
    ),
  );
}

function rowRules(r: HostRow, number: number, around: HostSurroundings): RuleParts[] {
  const where = `${WHERE}: row ${number}${r.name ? ` (${r.name})` : ''}`;
  const inward = r.direction === 'in';
  const local = portsOf(r.localPorts, where);
  const remote = portsOf(r.remotePorts, where);
  const remoteSet = scope(r.remoteAddresses, around, where);
  const localSet = scope(r.localAddresses, around, where);
  const programs = r.program ? programPorts(r.program, around, r.direction) : [[]];
  const text =
    `row ${number}${r.name ? ` (${r.name})` : ''}: ${r.action} ${r.protocol} ` +
    `${r.localPorts ?? 'any port'}` +
    `${r.remoteAddresses && r.remoteAddresses.length > 0 ? ` with ${r.remoteAddresses.join(', ')}` : ''}`;
  return programs.map((program) =>
    ofRow(
      'rows',
      number - 1,
      rule(
        text,
        ...protocolMatch(r.protocol),
        ...(local ? [match({ of: inward ? 'dport' : 'sport', protocol: null }, portNumbers(local))] : []),
        ...(remote ? [match({ of: inward ? 'sport' : 'dport', protocol: null }, portNumbers(remote))] : []),
        ...(remoteSet
          ? [match({ of: inward ? 'source' : 'destination', family: null }, addresses(remoteSet))]
          : []),
        ...(localSet
          ? [match({ of: inward ? 'destination' : 'source', family: null }, addresses(localSet))]
          : []),
        ...program,
        ...openOf(r, number, around),
        r.action === 'block' ? drop : accept,
      ),
    ),
  );
}

/** What is open about a row: as a listing leaves it, or as the settings say. */
function openOf({ perhaps, name }: HostRow, number: number, { ofRow }: HostSurroundings): Step[] {
  const of: Doubt | undefined = perhaps ? { doubt: 'said', text: perhaps } : ofRow?.get(number);
  return of ? [doubt({ doubt: 'row', number, name: name ?? null, of })] : [];
}
