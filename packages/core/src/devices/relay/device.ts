import { formatAddress } from '../../net/index.ts';
import { CT_STATE, CT_STATUS, type Step } from '../../rules/index.ts';
import {
  accept,
  addressOf,
  base,
  bits,
  doubt,
  match,
  names,
  one,
  programOf,
  protocolMatch,
  rule,
  single,
  type RuleParts,
} from '../build.ts';
import { interfacesOf, routesOf, type Device } from '../device.ts';
import type { DeviceInterface } from '../line.ts';
import type { RelayLease, RelaySettings } from './settings.ts';
import { everyTransport } from '../../site/index.ts';

const WHERE = 'relay';

/**
 * A tunnel's far end: a leased port leads through the tunnel, everything else ends in silence.
 * @throws SettingsError for a value that cannot be read
 */
export function relayDevice(settings: RelaySettings): Device {
  const lines: DeviceInterface[] = [
    { name: 'outside', side: 'outside', addresses: [settings.address] },
    { name: 'tunnel', side: 'inside', addresses: [settings.tunnelAddress] },
  ];
  const plain = interfacesOf(lines, WHERE);
  const interfaces = plain.map((i) => (i.name === 'tunnel' ? { ...i, noNeighbours: true } : i));
  const answers = rule(
    'answers',
    match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
    accept,
  );
  const hides =
    settings.hidesClient === false
      ? []
      : [
          rule(
            'the server sees the relay instead of the client',
            match({ of: 'out' }, names(['tunnel'])),
            match({ of: 'ct-status' }, bits(CT_STATUS.dnat)),
            ...(settings.hidesClient ? [] : [doubt({ doubt: 'relay-hides-client' })]),
            { do: 'masquerade', ports: null },
          ),
        ];
  return {
    interfaces,
    routes: routesOf(lines, interfaces),
    sockets: [],
    presumed: { forwarding: true, socketsComplete: everyTransport(true), kind: 'box' },
    program: programOf([
      base(
        'prerouting',
        'nat',
        'accept',
        'leased ports',
        settings.leases.flatMap((l, i) => leaseRule(l, i + 1, settings.at)),
      ),
      base('input', 'filter', 'drop', 'relay itself', [answers]),
      base('forward', 'filter', 'drop', 'through the tunnel', [
        answers,
        rule('what a lease leads on', match({ of: 'ct-status' }, bits(CT_STATUS.dnat)), accept),
        rule('from the tunnel', match({ of: 'in' }, names(['tunnel'])), accept),
      ]),
      base('postrouting', 'nat', 'accept', 'outward', [
        ...hides,
        rule('customers leave behind the relay', match({ of: 'out' }, names(['outside'])), {
          do: 'masquerade',
          ports: null,
        }),
      ]),
    ]),
  };
}

/** Whether a lease was over when it was looked up. */
export const hasEnded = ({ until }: RelayLease, at: string | undefined): boolean =>
  until !== undefined && at !== undefined && Date.parse(until) <= Date.parse(at);

function leaseRule(l: RelayLease, number: number, at: string | undefined): RuleParts[] {
  const where = `${WHERE}: lease ${number}`;
  const until = l.until === undefined ? null : Date.parse(l.until);
  const now = at === undefined ? NaN : Date.parse(at);
  if (hasEnded(l, at)) return [];
  const asked: Step[] =
    until !== null && Number.isNaN(now)
      ? [doubt({ doubt: 'lease-holds', port: l.port, until: l.until! })]
      : [];
  const to = addressOf(l.to, where);
  const port = l.toPort ?? l.port;
  return [
    rule(
      `lease ${number}: ${l.protocol} ${l.port} to ${formatAddress(to)}`,
      match({ of: 'in' }, names(['outside'])),
      ...protocolMatch(l.protocol),
      match({ of: 'dport', protocol: null }, one(l.port)),
      ...asked,
      {
        do: 'translate',
        side: 'destination',
        family: to.family,
        target: { addresses: single(to), ports: { first: port, last: port, base: null } },
      },
    ),
  ];
}
