import { nth } from '../../place/index.ts';
import { formatAddress, prefixOf } from '../../net/index.ts';
import { CT_STATE, type Doubt } from '../../rules/index.ts';
import { everyTransport, routeTo, type NetInterface } from '../../site/index.ts';
import { accept, base, bits, doubt, match, names, ofRow, prefixOfText, programOf, rule } from '../build.ts';
import type { Device } from '../device.ts';
import type { AllowListSettings } from './settings.ts';
import { allowRule, type ProtectedNet, SUBNET_LIST, subnetRules, translationRules, WHERE } from './rules.ts';

/**
 * A cloud perimeter: the rows of all lists add up, and who is let in is answered without a row of its own; a
 * stateless subnet list sees question and answer each by itself. Inside machines may always go out.
 * @param more.perhaps why rows that are not given may let a packet in
 * @param more.ofRow what is open about a row, by `list/row`, both from 1
 * @throws SettingsError for a value that cannot be read
 */
export function allowListDevice(
  settings: AllowListSettings,
  nets: readonly ProtectedNet[],
  more: { readonly perhaps?: Doubt; readonly ofRow?: ReadonlyMap<string, Doubt> } = {},
): Device {
  const inside: NetInterface[] = nets.map((net, i) => ({
    name: `inside${i === 0 ? '' : i + 1}`,
    index: i + 2,
    adminUp: true,
    carrier: null,
    mac: null,
    loopback: false,
    noNeighbours: false,
    source: null,
    addresses: [
      {
        address: net.gateway,
        prefixLength: net.length,
        peer: null,
        secondary: false,
        unusable: false,
        scope: 'global',
        source: null,
      },
    ],
  }));
  const outside: NetInterface = {
    name: 'outside',
    index: 1,
    adminUp: true,
    carrier: null,
    mac: null,
    loopback: false,
    noNeighbours: false,
    source: null,
    addresses: [],
  };
  const insideNames = inside.map((i) => i.name);
  const translation = translationRules(settings, nets);
  const subnet = settings.subnetList;
  let fronted: readonly string[];
  if (settings.publicAddress === undefined) fronted = nets.flatMap((n) => n.machine.map(formatAddress));
  else if (settings.publicAddress === 'none') fronted = [];
  else fronted = [settings.publicAddress];
  return {
    interfaces: [outside, ...inside],
    routes: [
      ...['0.0.0.0/0', '::/0'].map((to) =>
        routeTo(prefixOfText(to, WHERE), { via: null, device: 'outside' }),
      ),
      ...nets.map((n, i) =>
        routeTo(prefixOf(n.gateway, n.length), { via: null, device: nth(insideNames, i) }),
      ),
    ],
    sockets: [],
    presumed: { forwarding: true, socketsComplete: everyTransport(true), kind: 'box' },
    fronts: fronted,
    program: programOf([
      ...(translation
        ? [base('prerouting', 'nat', 'accept', 'public address inward', [translation.inward])]
        : []),
      ...(subnet
        ? [
            base(
              'forward',
              'filter',
              'drop',
              SUBNET_LIST,
              [...subnetRules(subnet.in, 'in', insideNames), ...subnetRules(subnet.out, 'out', insideNames)],
              -10,
            ),
          ]
        : []),
      base('forward', 'filter', 'drop', 'allow lists', [
        rule(
          'answers to what was let in',
          match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
          accept,
        ),
        rule('inside machines may go out', match({ of: 'in' }, names(insideNames)), accept),
        ...settings.lists.flatMap((l, list) =>
          l.rows.map((r, i) => {
            const place = { list: l.name, number: i + 1, open: more.ofRow?.get(`${list + 1}/${i + 1}`) };
            return ofRow(`lists/${list}`, i, allowRule(r, place, settings));
          }),
        ),
        ...(more.perhaps
          ? [rule('(rows that are not listed may let it in)', doubt(more.perhaps), accept)]
          : []),
      ]),
      base('input', 'filter', 'drop', 'perimeter itself', []),
      ...(translation
        ? [base('postrouting', 'nat', 'accept', 'public address outward', [translation.outward])]
        : []),
    ]),
  };
}
