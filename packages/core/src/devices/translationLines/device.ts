import {
  addressSet,
  ADDRESS_LENGTH,
  formatAddress,
  parseAddress,
  prefixOf,
  type AddressSet,
} from '../../net/index.ts';
import type { Step } from '../../rules/index.ts';
import { everyTransport, type NetInterface } from '../../site/index.ts';
import {
  addresses,
  addressesOf,
  addressMatch,
  addressOf,
  base,
  match,
  names,
  ofRow,
  one,
  prefixOfText,
  programOf,
  protocolMatch,
  rule,
  SettingsError,
  single,
  type RuleParts,
} from '../build.ts';
import { interfacesOf, ownSockets, routesOf, withFurther, type Device } from '../device.ts';
import type { TranslationLine, TranslationLinesSettings } from './settings.ts';

const WHERE = 'translation lines';

/**
 * A router with static mappings and no filter. Mappings of whole addresses work both ways; an outside address
 * that a mapping names is the router's even where no interface holds it (RFC 3022 §2.1).
 * @throws SettingsError for a value that cannot be read
 */
export function translationLinesDevice(settings: TranslationLinesSettings): Device {
  const plain = interfacesOf(settings.interfaces, WHERE);
  const outside = settings.interfaces.filter((d) => d.side === 'outside').map((d) => d.name);
  const mapped = settings.lines
    .flatMap((l) => (l.type === 'many' ? [] : [parseAddress(l.outside)]))
    .filter((a) => a !== null);
  const held = (a: (typeof mapped)[number]): boolean =>
    plain.some((i) => i.addresses.some((x) => x.address.bits === a.bits && x.address.family === a.family));
  // An inside address given as the outside of a mapping is not an address that anything is routed to
  // (static-inside-out).
  const routed = addressSet(
    ...(settings.outsidePrefixes ?? []).map((p) => prefixOfText(p, WHERE)),
    ...plain
      .filter((i) => outside.includes(i.name))
      .flatMap((i) => i.addresses.map((a) => prefixOf(a.address, a.prefixLength))),
  );
  const extra = mapped.filter((a) => !held(a) && inSet(routed, a));
  const interfaces = plain.map((i): NetInterface => (i.name !== outside[0] ? i : withFurther(i, extra)));
  return {
    interfaces,
    routes: routesOf(settings.interfaces, plain),
    sockets: ownSockets(settings.ownPorts, `${WHERE}: own ports`),
    presumed: {
      forwarding: true,
      socketsComplete: everyTransport(settings.ownPorts !== undefined),
      kind: 'box',
    },
    program: programOf([
      base(
        'prerouting',
        'nat',
        'accept',
        'mappings inward',
        settings.lines.flatMap((l, i) =>
          inward(l, i + 1, interfaces, outside).map((r) => ofRow('lines', i, r)),
        ),
      ),
      base(
        'postrouting',
        'nat',
        'accept',
        'mappings outward',
        settings.lines.flatMap((l, i) => outwardRules(l, i + 1, outside)),
      ),
    ]),
  };
}

const inSet = (set: AddressSet, a: { family: 4 | 6; bits: bigint }): boolean =>
  set[a.family].some((i) => a.bits >= i.first && a.bits <= i.last);

const to = (side: 'source' | 'destination', text: string, port: number | null, where: string): Step => {
  const a = addressOf(text, where);
  return {
    do: 'translate',
    side,
    family: a.family,
    target: { addresses: single(a), ports: port === null ? null : { first: port, last: port, base: null } },
  };
};

function inward(
  l: TranslationLine,
  number: number,
  interfaces: readonly NetInterface[],
  outside: readonly string[],
): RuleParts[] {
  const where = `${WHERE}: line ${number}`;
  if (l.type === 'many') return [];
  const device = interfaces.find((i) => i.name === l.outside);
  const set = device
    ? addressSet(
        ...device.addresses
          .filter((a) => !a.secondary)
          .map((a) => prefixOf(a.address, ADDRESS_LENGTH[a.address.family])),
      )
    : addressSet(prefixOfText(l.outside, where));
  // Mappings are looked up for what comes in by an outside line only.
  const conditions = [
    match({ of: 'in' }, names(outside)),
    match({ of: 'destination', family: null }, addresses(set)),
  ];
  if (l.type === 'address')
    return [
      rule(
        `line ${number}: ${l.outside} is ${l.inside}`,
        ...conditions,
        to('destination', l.inside, null, where),
      ),
    ];
  if (l.insidePort < 1 || l.insidePort > 65535 || l.outsidePort < 1 || l.outsidePort > 65535)
    throw new SettingsError(`${where}: a port lies between 1 and 65535`);
  return [
    rule(
      `line ${number}: ${l.protocol} ${l.outside} ${l.outsidePort} is ${l.inside} ${l.insidePort}`,
      ...conditions,
      ...protocolMatch(l.protocol),
      match({ of: 'dport', protocol: null }, one(l.outsidePort)),
      to('destination', l.inside, l.insidePort, where),
    ),
  ];
}

function outwardRules(l: TranslationLine, number: number, outside: readonly string[]): RuleParts[] {
  const where = `${WHERE}: line ${number}`;
  const leaving = match({ of: 'out' }, names(outside));
  if (l.type === 'many')
    return [
      rule(
        `line ${number}: inside machines leave behind the outside address`,
        leaving,
        ...addressMatch('source', addressesOf(l.sources, where)),
        { do: 'masquerade', ports: null },
      ),
    ];
  if (l.type !== 'address' || !parseAddress(l.outside)) return [];
  return [
    rule(
      `line ${number}: ${l.inside} leaves as ${l.outside}`,
      leaving,
      match({ of: 'source', family: null }, addresses(addressSet(prefixOfText(l.inside, where)))),
      to('source', formatAddress(addressOf(l.outside, where)), null, where),
    ),
  ];
}
