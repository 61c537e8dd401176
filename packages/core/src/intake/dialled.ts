import { nth } from '../place/index.ts';
import type { ServiceEndpoint } from '../case/index.ts';
import { addressKind, parseAddress, parseEndpoint, parsePort } from '../net/index.ts';

/** A mistake in what the client types. */
export interface DialProblem {
  readonly kind:
    | 'separator'
    | 'scheme'
    | 'space'
    | 'path'
    | 'inside-address'
    | 'port-missing'
    | 'port-other'
    | 'port-invalid'
    | 'unreadable';
  readonly text: string;
  /** The corrected text where it is clear. */
  readonly corrected: string | null;
}

export interface Dialled {
  readonly host: string;
  readonly port: number | null;
}

/** Takes what was typed apart, forgiving the usual slips; null where not even a host can be made out. */
export function parseDialled(text: string): Dialled | null {
  const bare = text
    .trim()
    .replace(/^[a-z][a-z0-9+.-]*:\/\//i, '')
    .split('/', 1)
    .join('')
    .replace(';', ':')
    .replace(/\s/g, '');
  const endpoint = parseEndpoint(bare, 0);
  if (endpoint) {
    const hasPort = /\]:\d+$|^[^:]+:\d+$/.test(bare);
    return {
      host:
        /^\[?([^\]]*?)(?:\](?::\d+)?|:\d+)?$/.exec(hasPort ? bare : `[${bare.replace(/[[\]]/g, '')}]`)?.[1] ??
        bare,
      port: hasPort ? endpoint.port : null,
    };
  }
  const match = /^((?:[a-z0-9_](?:[a-z0-9_-]*[a-z0-9])?\.)*[a-z0-9-]+)\.?(?::(\d{1,6}))?$/i.exec(bare);
  if (!match) return null;
  return { host: nth(match, 1).toLowerCase(), port: match[2] === undefined ? null : parsePort(match[2]) };
}

/**
 * The name or IPv4 address in a text that cannot be dialled as it is written: what its writer means. Null: it
 * holds none.
 */
export function hostIn(text: string): string | null {
  const bare = text.replace(/^[a-z][a-z0-9+.-]*:\/\//i, '');
  for (const word of bare.toLowerCase().split(/[^a-z0-9.-]/)) {
    const labels = word.split('.').filter((each) => each !== '');
    if (labels.length > 1) return labels.join('.');
  }
  return null;
}

/** What is wrong with a dialled text, for a service whose endpoints are known. */
export function checkDialled(text: string, endpoints: readonly ServiceEndpoint[]): DialProblem[] {
  const out: DialProblem[] = [];
  const parsed = parseDialled(text);
  if (!parsed)
    return [
      { kind: 'unreadable', text: `“${text}” is neither a name nor an address with a port`, corrected: null },
    ];
  const port = parsed.port ?? (endpoints.length > 0 ? nth(endpoints, 0).port : null);
  const six = parsed.host.includes(':');
  const right = `${six ? `[${parsed.host}]` : parsed.host}${port === null ? '' : `:${port}`}`;
  if (/;/.test(text))
    out.push({
      kind: 'separator',
      text: 'a “;” stands where a “:” belongs between host and port',
      corrected: right,
    });
  if (/^[a-z][a-z0-9+.-]*:\/\//i.test(text.trim()))
    out.push({
      kind: 'scheme',
      text: 'most programs want host and port only, without the part before “://”',
      corrected: right,
    });
  if (/\s/.test(text.trim()))
    out.push({ kind: 'space', text: 'there is a blank inside the address', corrected: right });
  if (/[^/]\/(?!\/)/.test(text.replace(/^[a-z+.-]+:\/\//i, '')))
    out.push({ kind: 'path', text: 'there is a “/” behind the address', corrected: right });
  const written = /[:;]\s*(\d+)\s*(?:\/.*)?$/.exec(
    six ? text.replace(/^.*\]/, '') : text.replace(/^[a-z+.-]+:\/\//i, ''),
  )?.[1];
  if (written !== undefined && parsePort(written) === null)
    out.push({ kind: 'port-invalid', text: `${written} is not a port (1 to 65535)`, corrected: null });
  const address = parseAddress(parsed.host);
  const kind = address ? addressKind(address) : null;
  if (kind && !kind.reachable)
    out.push({
      kind: 'inside-address',
      text:
        `${parsed.host} is ` +
        `${kind.kind === 'private' ? 'an inside address' : `a ${kind.name.toLowerCase()} address`} ` +
        `(${kind.rfc}); from outside nobody can reach it`,
      corrected: null,
    });
  if (parsed.port === null && endpoints.length > 0 && written === undefined)
    out.push({
      kind: 'port-missing',
      text: `no port is typed; unless the program knows its own, ${nth(endpoints, 0).port} belongs there`,
      corrected: right,
    });
  else if (
    parsed.port !== null &&
    endpoints.length > 0 &&
    !endpoints.some((e) => parsed.port! >= e.port && parsed.port! <= (e.portEnd ?? e.port))
  )
    out.push({
      kind: 'port-other',
      text: `port ${parsed.port} is dialled, and the service uses ${endpoints.map((e) => e.port).join(', ')}`,
      corrected: null,
    });
  return out;
}
