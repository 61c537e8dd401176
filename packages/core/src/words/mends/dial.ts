import { addressKind, formatAddress, formatEndpoint, formatPrefix, isReachable } from '../../net/index.ts';
import { addressWithKind } from '../endings.ts';
import { inSentence } from '../named.ts';
import { servedText, type FindingOf, type FindingWords } from './parts.ts';

type DialFinding = 'record' | 'dialled' | 'shared-address' | 'hairpin' | 'turn-round';

const addressChange = ({ now, mended }: FindingOf<'record' | 'dialled'>) => ({
  values: [{ label: 'Address', now: formatAddress(now), mended: formatAddress(mended) }],
  opens: 'nothing',
});

export const DIAL_WORDS: { readonly [K in DialFinding]: FindingWords<K> } = {
  record: (f) => ({
    ...addressChange(f),
    wrong: isReachable(f.now)
      ? `${f.name} resolves to ${formatAddress(f.now)}, and the gateway is ${formatAddress(f.mended)}`
      : `${f.name} resolves to ${addressWithKind(f.now)}, which nobody outside can reach`,
    title: `Point ${f.name} to ${formatAddress(f.mended)}`,
    where: `the zone of ${f.name}, record ${f.type}`,
    also:
      'Let an updater keep the record true, since the address may change again; old answers live ' +
      'until their time to live is over.',
  }),
  dialled: (f) => ({
    ...addressChange(f),
    wrong: isReachable(f.now)
      ? `the client dials ${formatAddress(f.now)}, and the gateway’s outside address is ` +
        `${formatAddress(f.mended)} now`
      : `the client dials ${addressWithKind(f.now)}, an inside address`,
    title: `Dial ${formatAddress(f.mended)}${isReachable(f.now) ? '' : ' instead'}`,
    where: 'what the client types',
    also: isReachable(f.now) ? 'A name with an updater spares the next change.' : null,
  }),
  hairpin: ({ served, dialled, to }, at) => ({
    wrong:
      `${servedText(served)} on ${formatAddress(dialled)} is forwarded for callers from outside, ` +
      'and what comes from inside is not turned round',
    title: `Dial ${formatEndpoint(to)} from inside`,
    where: 'what the client types, or the name as it is answered inside',
    values: [{ label: 'Address', now: formatAddress(dialled), mended: formatEndpoint(to) }],
    also:
      `Or let ${inSentence(at)} turn inside connections to its outside address round (hairpin), ` +
      'where it can; the forward itself is right.',
    opens: 'nothing',
  }),
  'turn-round': ({ served, dialled, to, from, rules }, at) => ({
    wrong:
      `${servedText(served)} on ${formatAddress(dialled)} is forwarded for callers from outside, ` +
      'and what comes from inside is not turned round',
    title: `Turn callers from ${formatPrefix(from)} round at ${inSentence(at)}`,
    where: `${at}, its translations`,
    values: rules.map((mended) => ({ label: 'Rule', now: null, mended })),
    also:
      'Write the rules to the file that is loaded at start. The server then sees the ' +
      'gateway as its caller.',
    opens:
      `${served.transport} ${served.port} on ${formatAddress(dialled)} for ${formatPrefix(from)}: ` +
      formatEndpoint(to),
  }),
  'shared-address': ({ gateway, wan, shared, isSeen }, _at, names) => ({
    wrong:
      `${ownAddress(wan, inSentence(names(gateway)))}; ` +
      `${isSeen ? 'the internet sees' : 'the client dials'} ${formatAddress(shared)}`,
    title: 'Ask the carrier for a public IPv4 address',
    where: 'the contract with the carrier',
    values: [{ label: 'WAN address', now: wan && formatAddress(wan), mended: 'a public address of its own' }],
    also:
      'Other ways round: IPv6 with an opening for this port, a relay or tunnel that leases a port, ' +
      'or a rented machine in front.',
    opens: 'nothing by itself; the forward decides',
  }),
};

function ownAddress(wan: FindingOf<'shared-address'>['wan'], gateway: string): string {
  if (!wan) return `the outside address of ${gateway} is shared by the carrier`;
  const { kind, rfc } = addressKind(wan);
  const what = kind === 'ds-lite' ? 'only good for the carrier’s IPv6 tunnel' : 'shared by the carrier';
  return `the outside address of ${gateway}, ${formatAddress(wan)}, is ${what} (${rfc})`;
}
