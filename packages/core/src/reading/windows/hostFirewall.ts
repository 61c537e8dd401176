import { maskLength } from '../../net/index.ts';
import {
  known,
  open,
  saidOr,
  type Fact,
  type HostProfileRecord,
  type HostRowRecord,
  type ToldFactOf,
} from '../../facts/index.ts';
import { type Line } from '../text.ts';
import { lineAt, told } from '../noted.ts';

export const YES = /^(yes|ja|oui|sí|si|sim|true|enabled?|aktiviert|on|ein|activé|activado|ativado|1)$/i;
export const NO =
  /^(no|nein|non|não|nao|false|disabled?|off|aus|désactivé|inactif|desactivado|desativado|deaktiviert|0)$/i;
export const IN = /^(in|inbound|eingehend|entrante?|dans|entrada|de entrada|rein|1)$/i;
export const OUT = /^(out|outbound|ausgehend|sortant|saliente|sa[ií]da|de sa[ií]da|salida|2)$/i;
const ALLOW = /^(allow|zulassen|autoriser|permitir|permitido|2)$/i;
const BLOCK = /^(block|blockieren|bloquer|bloquear|4)$/i;
const BYPASS = /^(bypass|umgehen|contourner|omitir|ignorar|allowbypass)$/i;
export const ANY = /^(any|beliebig|tout|tous|toutes|cualquiera|qualquer|todos?|alle|\*)$/i;
const SUBNET =
  /^(localsubnet|lokalessubnetz|lokalsubnetz|subred ?local|subrede ?local|sous-r[eé]seau ?local)$/i;
/** The one value of “Security” that asks for nothing. */
export const OPEN = new RegExp(
  String.raw`^(notrequired|not required|nicht erforderlich|non requis|` +
    String.raw`no (?:es )?(?:requerido|necesario)|n[aã]o (?:necess[aá]rio|exigido|obrigat[oó]rio))$`,
  'i',
);

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
  given: Omit<HostRowRecord, 'profiles'> & { readonly profiles: readonly string[] | null },
): ToldFactOf<'host-row'> {
  const value: HostRowRecord = { ...given, profiles: profilesField(given.profiles) };
  return told('host-row', lineAt(at), value, rowText(value));
}

/** Null: the listing does not show them. */
function profilesField(profiles: readonly string[] | null): HostRowRecord['profiles'] {
  if (profiles === null) return open({ doubt: 'not-shown', fields: ['profile'] });
  const strange = profiles.filter((p) => !PROFILES.has(p));
  return strange.length > 0
    ? open({ doubt: 'word', field: 'profile', text: strange.join(', ') })
    : known(profiles);
}

function rowText(r: HostRowRecord): string {
  const program = saidOr(r.program, null);
  return (
    `${saidOr(r.enabled, true) ? '' : '(off) '}${saidOr(r.action, 'allow or block')} ` +
    `${saidOr(r.direction, 'in or out')} ${saidOr(r.protocol, 'any')} ` +
    `${saidOr(r.localPorts, null) ?? 'any port'}${program ? ` for ${program}` : ''}, ` +
    `${saidOr(r.profiles, []).join('+') || 'any profile'}`
  );
}

/** What a profile does with a packet that no row names. */
export function profileFact(
  at: Line,
  name: string,
  on: boolean | null,
  inward: string,
  outward: string,
  switches: Pick<HostProfileRecord, 'blocksAll' | 'ignoresRows'> = {},
): Fact {
  const profile = profileName(name);
  // “Not configured” stands for the system's own choice: nothing in, everything out.
  const value: HostProfileRecord = {
    name: profile,
    on,
    in: /allow|zulass|autoris|permit|^2$/i.test(inward) ? 'allow' : 'block',
    out: /block|bloqu|^4$/i.test(outward) ? 'block' : 'allow',
    ...blocking(inward, switches.blocksAll),
    ...(switches.ignoresRows ? { ignoresRows: true } : {}),
  };
  return told(
    'host-profile',
    lineAt(at),
    value,
    on !== false
      ? `profile ${profile}: ${value.in} in, ${value.out} out where no row says otherwise`
      : `profile ${profile}: the host firewall is off`,
  );
}

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
export function profileName(text: string): string {
  const word = text.trim().toLowerCase();
  const known = PROFILE[word];
  if (known !== undefined) return known;
  if (/dom[aäí]/.test(word)) return 'domain';
  if (/priv|particular/.test(word)) return 'private';
  return /publi|públi|öffentl/.test(word) ? 'public' : word;
}

const ALWAYS = /always|immer|toujours|siempre|sempre/i;
const INWARD_WORD = /block|bloqu|allow|zulass|autoris|permit|notconfigured|^[024]$|^$/i;

function blocking(
  inward: string,
  said: HostProfileRecord['blocksAll'],
): Pick<HostProfileRecord, 'blocksAll'> {
  if (said === true || ALWAYS.test(inward)) return { blocksAll: true };
  return said === 'perhaps' || !INWARD_WORD.test(inward) ? { blocksAll: 'perhaps' } : {};
}

/** The kind of network that an interface is on, which chooses the profile. Numbered 0 to 2 in objects. */
export const categoryFact = (at: Line, category: string, on: string): Fact =>
  told(
    'active-profile',
    lineAt(at),
    {
      profile:
        PROFILE[category.toLowerCase()] ?? ['public', 'private', 'domain'][Number(category)] ?? category,
      interface: on || null,
    },
    `${category}${on ? ` on ${on}` : ''}`,
  );
