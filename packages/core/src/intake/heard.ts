import type { CaseDocument, Client, Service, ServiceEndpoint, Symptom } from '../case/index.ts';
import { parseAddress, parsePortRange, parsePrefix } from '../net/index.ts';

export const KINDS = ['game', 'media', 'database', 'other'] as const;

/** What the caller said, as the texts of its fields. */
export interface Heard {
  readonly title: string;
  readonly service: string;
  readonly kind: (typeof KINDS)[number];
  /** `udp 28410, tcp 28410-28415` */
  readonly ports: string;
  readonly dials: string;
  readonly from: string;
  readonly symptom: Symptom;
  readonly says: string;
  /** `anyone`, or prefixes; empty: nobody has said. */
  readonly audience: string;
}

export function heardOf({ title, service, client }: CaseDocument): Heard {
  const audience = service?.audience;
  return {
    title,
    service: service?.name ?? '',
    kind: service?.kind ?? 'other',
    ports: portsText(service?.endpoints ?? []),
    dials: [client?.dials ?? '', ...(client?.alsoDials ?? [])].filter((d) => d !== '').join(', '),
    from: [client?.address ?? '', ...(client?.others ?? [])].filter((a) => a !== '').join(', '),
    symptom: client?.symptom ?? 'unknown',
    says: client?.says ?? '',
    audience: typeof audience === 'string' ? audience : (audience ?? []).join(', '),
  };
}

export const portsText = (endpoints: readonly ServiceEndpoint[]): string =>
  endpoints
    .map((e) => `${e.guessed ? '' : `${e.protocol} `}${e.port}${e.portEnd ? `-${e.portEnd}` : ''}`)
    .join(', ');

type Transports = readonly ('tcp' | 'udp')[];
const TRANSPORTS: Readonly<Record<string, Transports>> = { tcp: ['tcp'], udp: ['udp'], both: ['tcp', 'udp'] };

/**
 * Endpoints of `udp 28410, tcp 28410-28415`, `8100/tcp 8101/udp`, `both 8102`; null where a piece is none of
 * these. The protocol stands before its ports, or behind them. A port without one is taken for TCP, and
 * marked: nobody has said so.
 */
export function endpointsFrom(text: string): ServiceEndpoint[] | null {
  const words = text
    .toLowerCase()
    .replaceAll('–', '-')
    .replaceAll(' - ', '-')
    .split(/[\s,;/()+&]+/)
    .filter((w) => w !== '' && w !== 'and');
  const isBehind = words[0] !== undefined && !(words[0] in TRANSPORTS);
  const read = pairs(isBehind ? words.reverse() : words);
  if (!read) return null;
  const out: ServiceEndpoint[] = [];
  for (const { port, transports, isSaid } of isBehind ? read.reverse() : read)
    for (const protocol of transports)
      if (!out.some((e) => e.protocol === protocol && e.port === port.first))
        out.push({
          protocol,
          port: port.first,
          ...(port.last > port.first ? { portEnd: port.last } : {}),
          ...(isSaid ? {} : { guessed: true as const }),
        });
  return out;
}

interface Pair {
  readonly port: { readonly first: number; readonly last: number };
  readonly transports: Transports;
  readonly isSaid: boolean;
}

/** Each port with the protocols that stand before it. */
function pairs(words: readonly string[]): Pair[] | null {
  const out: Pair[] = [];
  let transports: ('tcp' | 'udp')[] = [];
  let isNew = true;
  for (const word of words) {
    const own = TRANSPORTS[word];
    if (own) {
      transports = isNew ? [...new Set([...transports, ...own])] : [...own];
      isNew = true;
      continue;
    }
    const port = parsePortRange(word);
    if (!port || port.first === 0) return null;
    const isSaid = transports.length > 0;
    out.push({ port, transports: isSaid ? [...transports].sort() : ['tcp'], isSaid });
    isNew = false;
  }
  // A protocol without a port behind it says nothing.
  return isNew && words.length > 0 ? null : out;
}

/** Addresses of `198.51.100.23, 192.0.2.7`; null where a piece is none. */
function sendersFrom(text: string): string[] | null {
  const pieces = text.split(/[\s,;]+/).filter((p) => p !== '' && p !== 'and');
  return pieces.every((p) => parseAddress(p) !== null) ? pieces : null;
}

/** What is dialled, one after the other: a comma with a blank parts them, since one without may be a slip. */
export const dialledFrom = (text: string): string[] =>
  text
    .split(/, | and | or /)
    .map((t) => t.trim())
    .filter((t) => t !== '');

/** Who is meant to reach the service; null where a piece is no prefix. */
function audienceFrom(text: string): Service['audience'] | null {
  const plain = text.trim();
  if (plain === '') return undefined;
  if (/^(anyone|everyone|any|all)$/i.test(plain)) return 'anyone';
  const pieces = plain.split(/[\s,;]+/).filter(Boolean);
  return pieces.every((p) => parsePrefix(p) !== null) ? pieces : null;
}

/** What is wrong with what was typed, by its field; empty: nothing. */
export function heardProblems(heard: Heard): Partial<Record<keyof Heard, string>> {
  return {
    ...(heard.title.trim() === '' ? { title: 'A case needs a name.' } : {}),
    ...(endpointsFrom(heard.ports) === null
      ? {
          ports:
            'Write each as protocol and port, for example “udp 28410, tcp 28410-28415”; a port alone ' +
            'where nobody has said.',
        }
      : {}),
    ...(sendersFrom(heard.from) === null ? { from: 'This is not an IP address.' } : {}),
    ...(audienceFrom(heard.audience) === null
      ? { audience: 'Write “anyone”, or addresses such as 198.51.100.0/24.' }
      : {}),
  };
}

/** The case with what was heard put right. Fields with a problem stay as they were. */
export function withHeard(document: CaseDocument, heard: Heard): CaseDocument {
  const wrong = heardProblems(heard);
  const endpoints = endpointsFrom(heard.ports);
  const audience = audienceFrom(heard.audience);
  const { audience: _audience, ...service } = document.service ?? {};
  const {
    address: _address,
    dials: _dials,
    alsoDials: _also,
    others: _others,
    ...client
  } = document.client ?? {};
  const before = [document.client?.address ?? [], document.client?.others ?? []].flat();
  const [dials, ...alsoDials] = dialledFrom(heard.dials);
  const [from = '', ...others] = sendersFrom(heard.from) ?? before;
  const meant = audience === null ? document.service?.audience : audience;
  return {
    ...document,
    title: wrong.title ? document.title : heard.title.trim(),
    service: {
      ...service,
      ...(heard.service.trim() === '' ? {} : { name: heard.service.trim() }),
      kind: heard.kind,
      ...(endpoints === null ? {} : { endpoints }),
      ...(meant === undefined ? {} : { audience: meant }),
    },
    client: {
      ...client,
      ...(from === '' ? {} : { address: from }),
      ...(others.length > 0 ? { others } : {}),
      ...(dials === undefined ? {} : { dials }),
      ...(alsoDials.length > 0 ? { alsoDials } : {}),
      symptom: heard.symptom,
      ...(heard.says.trim() === '' ? {} : { says: heard.says.trim() }),
    } satisfies Client,
  };
}
