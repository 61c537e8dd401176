import { maskLength } from '../../net/index.ts';
import {
  known,
  open,
  saidOr,
  type Fact,
  type HostProfileRecord,
  type HostRowRecord,
  type Problem,
  type ToldFactOf,
} from '../../facts/index.ts';
import { linesOf, type Line } from '../text.ts';
import { lineAt, problemAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';

export const YES = /^(yes|ja|oui|sí|si|sim|true|enabled|aktiviert|on|ein|activé|activado|ativado|1)$/i;
const NO =
  /^(no|nein|non|não|nao|false|disabled|off|aus|désactivé|inactif|desactivado|desativado|deaktiviert|0)$/i;
export const IN = /^(in|inbound|eingehend|entrante?|dans|entrada|de entrada|rein|1)$/i;
const OUT = /^(out|outbound|ausgehend|sortant|saliente|sa[ií]da|de sa[ií]da|salida|2)$/i;
const ALLOW = /^(allow|zulassen|autoriser|permitir|permitido|2)$/i;
const BLOCK = /^(block|blockieren|bloquer|bloquear|4)$/i;
const BYPASS = /^(bypass|umgehen|contourner|omitir|ignorar|allowbypass)$/i;
const ANY = /^(any|beliebig|tout|tous|toutes|cualquiera|qualquer|todos?|alle|\*)$/i;
const SUBNET =
  /^(localsubnet|lokalessubnetz|lokalsubnetz|subred ?local|subrede ?local|sous-r[eé]seau ?local)$/i;
/** The one value of “Security” that asks for nothing. */
const OPEN =
  /^(notrequired|not required|nicht erforderlich|non requis|no (?:es )?(?:requerido|necesario)|n[aã]o (?:necess[aá]rio|exigido|obrigat[oó]rio))$/i;

/**
 * Rows from which on a listing is taken for the whole firewall: nobody's selection is that long, and every
 * system has more.
 */
const WHOLE = 50;

export const PROFILE: Readonly<Record<string, string>> = {
  domain: 'domain',
  domäne: 'domain',
  domaine: 'domain',
  dominio: 'domain',
  domínio: 'domain',
  private: 'private',
  privat: 'private',
  privé: 'private',
  privado: 'private',
  particular: 'private',
  public: 'public',
  öffentlich: 'public',
  publique: 'public',
  público: 'public',
  domainauthenticated: 'domain',
};

const PROFILES: ReadonlySet<string> = new Set(Object.values(PROFILE));
/** Profiles as the shell's objects number them, one bit each. */
const PROFILE_BITS = ['domain', 'private', 'public'] as const;

/** One row of the host firewall; what its profiles say is judged here. */
export function hostRow(
  at: Line,
  given: Omit<HostRowRecord, 'profiles'> & { readonly profiles: readonly string[] },
): ToldFactOf<'host-row'> {
  const strange = given.profiles.filter((p) => !PROFILES.has(p));
  const value: HostRowRecord = {
    ...given,
    profiles:
      strange.length > 0
        ? open({ doubt: 'word', field: 'profile', text: strange.join(', ') })
        : known(given.profiles),
  };
  return told('host-row', lineAt(at), value, rowText(value));
}

function rowText(r: HostRowRecord): string {
  const program = saidOr(r.program, null);
  return `${saidOr(r.enabled, true) ? '' : '(off) '}${saidOr(r.action, 'allow or block')} ${saidOr(r.direction, 'in or out')} ${saidOr(r.protocol, 'any')} ${saidOr(r.localPorts, null) ?? 'any port'}${program ? ` for ${program}` : ''}, ${saidOr(r.profiles, []).join('+') || 'any profile'}`;
}

/** What a profile does with a packet that no row names. */
export function profileFact(at: Line, name: string, on: boolean, inward: string, outward: string): Fact {
  const profile = profileName(name);
  // “Not configured” stands for the system's own choice: nothing in, everything out.
  const value: HostProfileRecord = {
    name: profile,
    on,
    in: /allow|zulass|autoris|permit|^2$/i.test(inward) ? 'allow' : 'block',
    out: /block|bloqu|^4$/i.test(outward) ? 'block' : 'allow',
  };
  return told(
    'host-profile',
    lineAt(at),
    value,
    on
      ? `profile ${profile}: ${value.in} in, ${value.out} out where no row says otherwise`
      : `profile ${profile}: the host firewall is off`,
  );
}

export const wholeListing = (facts: readonly Fact[]): Fact[] =>
  facts.filter((f) => f.kind === 'host-row').length >= WHOLE
    ? [told('host-rows-whole', facts[0]!.at, true, 'a listing of the whole host firewall')]
    : [];

export function actionOf(text: string): HostRowRecord['action'] {
  if (ALLOW.test(text)) return known('allow');
  if (BLOCK.test(text)) return known('block');
  if (BYPASS.test(text)) return known('allow-if-authenticated');
  return open({ doubt: 'word', field: 'action', text });
}
export function enabledOf(text: string): HostRowRecord['enabled'] {
  if (YES.test(text)) return known(true);
  if (NO.test(text)) return known(false);
  return open(
    text === '' ? { doubt: 'not-shown', fields: ['state'] } : { doubt: 'word', field: 'state', text },
  );
}
export function directionOf(text: string): HostRowRecord['direction'] {
  if (IN.test(text)) return known('in');
  if (OUT.test(text)) return known('out');
  return open({ doubt: 'word', field: 'option', text });
}
export const protocolOf = (text: string): string => {
  if (/^(6|tcp)$/i.test(text)) return 'tcp';
  if (/^(17|udp)$/i.test(text)) return 'udp';
  return ANY.test(text) ? 'any' : text.toLowerCase();
};
export const portsText = (text: string | undefined): string | null =>
  text === undefined || text === '' || ANY.test(text) ? null : text.replace(/\s/g, '');
export const addressesOf = (text: string | undefined): string[] =>
  text === undefined || text === '' || ANY.test(text)
    ? []
    : text.split(/[,;]\s*/).map((a) =>
        SUBNET.test(a.trim())
          ? 'local-subnet'
          : a
              .trim()
              .replace(/\/255\.255\.255\.255$/, '')
              .replace(/\/((?:\d{1,3}\.){3}\d{1,3})$/, (_, m: string) => `/${maskLength(m) ?? 32}`),
      );
export const profilesOf = (text: string): string[] => {
  if (/^\d+$/.test(text.trim())) {
    return (Number(text) & 7) % 7 === 0 ? [] : PROFILE_BITS.filter((_, i) => (Number(text) >> i) & 1);
  }
  return profileWords(text);
};
const profileWords = (text: string): string[] =>
  text
    .split(/,\s*/)
    .map((p) => PROFILE[p.trim().toLowerCase()] ?? p.trim().toLowerCase())
    .filter((p) => p !== '' && !ANY.test(p));
function profileName(text: string): string {
  const word = text.trim().toLowerCase();
  const known = PROFILE[word];
  if (known !== undefined) return known;
  if (/dom[aäí]/.test(word)) return 'domain';
  if (/priv|particular/.test(word)) return 'private';
  return /publi|públi|öffentl/.test(word) ? 'public' : word;
}

/**
 * Rules and profiles as the system's own shell lists them, in any language: the order of the lines in a block
 * is fixed, the words are not.
 * The network's category is taken along where it stands in the same paste.
 */
export const netsh: Reader = {
  format: 'netsh-rules',
  title: 'rules and profiles of the host firewall (netsh)',
  recognise: (text) =>
    /^-{40,}\s*$/m.test(text) &&
    (profileBlocks(text).length > 0 || blocksOf(text).some((b) => b.length >= 8 && switchOf(b) > 0))
      ? 0.97
      : 0,
  read(text) {
    const profiles = profileBlocks(text);
    const facts: Fact[] = profiles.map((p) => profileFact(p.line, p.name, p.on, p.in, p.out));
    const problems: Problem[] = [];
    const heads = new Set(profiles.map((p) => p.line.number));
    for (const block of blocksOf(text)) {
      if (heads.has(block[0]!.line.number)) continue;
      const row = rowOf(block);
      if (row) facts.push(row);
      else problems.push(problemAt(block[0]!.line, 'this rule is cut off'));
    }
    for (const line of linesOf(text)) {
      const category = /^NetworkCategory\s*:\s*(\w+)\s*$/.exec(line.text)?.[1];
      if (category) facts.push(categoryFact(line, category, ''));
    }
    return { format: 'netsh-rules', facts: [...facts, ...wholeListing(facts)], problems, covers: [] };
  },
};

/** The kind of network that an interface is on, which chooses the profile. Numbered 0 to 2 in objects. */
export const categoryFact = (at: Line, category: string, on: string): Fact =>
  told(
    'active-profile',
    lineAt(at),
    PROFILE[category.toLowerCase()] ?? ['public', 'private', 'domain'][Number(category)] ?? category,
    `${category}${on ? ` on ${on}` : ''}`,
  );

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
  const action = actionOf(rest[rest.length - 1]!.value);
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
  return hostRow(block[0]!.line, {
    name: block[0]!.value,
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

const PROFILE_HEAD = /^(\S.{2,60}?):?\s*$/;
const COLUMN = /^(\S.{0,200}?)\s{2,200}(\S.*)/;

/**
 * State and default of each profile: heading, ruler, state, then two words for what comes in and what goes
 * out.
 */
function profileBlocks(text: string): { line: Line; name: string; on: boolean; in: string; out: string }[] {
  const lines = linesOf(text);
  return lines.flatMap((ruler, i) => {
    const head = PROFILE_HEAD.exec(lines[i - 1]?.text ?? '');
    if (!head || !/^-{40,}\s*$/.test(ruler.text)) return [];
    const state = COLUMN.exec(lines[i + 1]?.text ?? '');
    const policy = COLUMN.exec(lines[i + 2]?.text ?? '');
    const words = policy?.[2]?.split(/,\s*/) ?? [];
    if (
      !state ||
      words.length !== 2 ||
      !(YES.test(state[2]!) || NO.test(state[2]!)) ||
      !Object.values(PROFILE).includes(profileName(head[1]!))
    )
      return [];
    return [{ line: lines[i - 1]!, name: head[1]!, on: YES.test(state[2]!), in: words[0]!, out: words[1]! }];
  });
}

interface BlockLine {
  readonly label: string;
  readonly value: string;
  readonly line: Line;
}

/** Blocks of `label: value` lines; a ruler of dashes stands below each name. */
function blocksOf(text: string): BlockLine[][] {
  const out: BlockLine[][] = [];
  let current: BlockLine[] | null = null;
  let last: BlockLine | null = null;
  for (const line of linesOf(text)) {
    if (/^-{20,}\s*$/.test(line.text)) {
      if (last) out.push((current = [last]));
      continue;
    }
    const m = /^(\S[^:]{0,60}):(.*)/.exec(line.text);
    if (!m) {
      if (line.text.trim() === '') current = null;
      continue;
    }
    last = { label: m[1]!, value: m[2]!.trim(), line };
    current?.push(last);
  }
  return out;
}
