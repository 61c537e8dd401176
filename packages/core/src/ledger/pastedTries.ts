import type { CaseDocument, Observation } from '../case/index.ts';
import {
  addressKind,
  formatEndpoint,
  parseAddress,
  parseEndpoint,
  sameAddress,
  type Address,
} from '../net/index.ts';
import type { Fact } from '../facts/index.ts';

/** A piece of evidence, as far as tries are concerned. */
interface Piece {
  readonly stop: string;
  readonly format: string | null;
  readonly facts: readonly Fact[];
  /** RFC 3339; null: not known */
  readonly at: string | null;
  readonly misplaced?: unknown;
}

/** What the outcome of a try means for the packet; words that tell neither are no observations. */
const OUTCOMES: readonly (readonly [RegExp, Observation['outcome']])[] = [
  [/^(?:answered|success|accepting connections|server answers)/, 'answered'],
  // An unreachable host may also be the sender's own network: that is no answer of anybody.
  [/^refused/, 'refused'],
  [/^(?:timeout|no response)/, 'lost'],
];

/**
 * Tries whose output was sent: each is an observation from where its piece lies, as if somebody had noted it.
 * What an output does not say, its address, its port or its outcome, makes it none.
 */
export function pastedTries(files: readonly Piece[], { path, client }: CaseDocument): Observation[] {
  return files.flatMap((file): Observation[] => {
    if (file.format !== 'connection-try' || file.misplaced) return [];
    const role = path.find((s) => s.id === file.stop)?.role;
    const valueOf = (topic: string): string | undefined =>
      file.facts.flatMap((f) =>
        f.kind === 'noted' && f.topic === topic && typeof f.value === 'string' ? [f.value] : [],
      )[0];
    const said = file.facts.flatMap((f) => (f.kind === 'outcome' ? [f.value] : []))[0] ?? '';
    const outcome = OUTCOMES.find(([word]) => word.test(said))?.[1];
    const to = parseEndpoint(valueOf('to') ?? '');
    const protocol = valueOf('protocol');
    if (!outcome || !to || to.port === 0 || (protocol !== 'tcp' && protocol !== 'udp')) return [];
    const isOwn = files.some(
      (f) =>
        f.stop === file.stop && f.facts.some((x) => x.kind === 'address' && holds(x.address, to.address)),
    );
    const vantage = vantageOf(role, addressKind(to.address).kind, isOwn, client?.address);
    if (vantage === null) return [];
    return [
      {
        vantage,
        to: `${formatEndpoint(to)}/${protocol}`,
        outcome,
        ...(file.at === null ? {} : { at: file.at }),
        ...(said.startsWith('server answers') ? { greeting: said } : {}),
      },
    ];
  });
}

const holds = (text: string, address: Address): boolean => {
  const own = parseAddress(text);
  return own !== null && sameAddress(own, address);
};

/** From where a try on such a stop goes to such an address; null: it tells nothing of the client's way. */
function vantageOf(
  role: string | undefined,
  kind: string,
  isOwn: boolean,
  from: string | undefined,
): Observation['vantage'] | null {
  const isInside = kind === 'private' || kind === 'loopback';
  // From the server to an address that it is not known to have: whose that is, is not said.
  if (role === 'host') return isOwn || kind === 'loopback' ? 'host' : null;
  if (role !== 'client') return null;
  const sender = from === undefined ? null : parseAddress(from);
  const isNear = sender !== null && addressKind(sender).kind === 'private';
  if (isInside) return isNear ? 'lan' : null;
  return isNear ? 'lan-by-outside-address' : 'client';
}
