import type { PortSet } from '../../net/index.ts';
import { CT_STATE, type Doubt, type Program, type Step } from '../../rules/index.ts';
import {
  accept,
  addresses,
  addressesOf,
  base,
  bits,
  doubt,
  drop,
  match,
  one,
  portNumbers,
  portsOf,
  programOf,
  protocolMatch,
  rule,
} from '../build.ts';
import type { CarrierSettings } from './settings.ts';

const WHERE = 'carrier';
/** As the packet filter numbers families. */
const NFPROTO_IPV4 = 2;

/** Something that may keep packets from a customer; null: of any protocol, to any port. */
export interface CarrierDoubt {
  readonly doubt: Doubt;
  readonly protocol: 'tcp' | 'udp' | null;
  readonly ports: PortSet | null;
  readonly onlyFour: boolean;
}

/**
 * What a carrier does with packets towards its customers: blocked ports and the shield. Answers pass.
 * @throws SettingsError for a value that cannot be read
 */
export function carrierProgram(settings: CarrierSettings, doubts: readonly CarrierDoubt[] = []): Program {
  const { shield } = settings;
  const approved = addressesOf(shield?.approved, `${WHERE}: approved clients`);
  // Its truth changes with time: trace then tells the outcome at first and later.
  const later: Step[] =
    shield?.when === 'after-a-while' ? [{ do: 'over-time', doubt: { doubt: 'shield-later' } }] : [];
  return programOf([
    base('forward', 'filter', 'accept', 'towards customers', [
      rule('answers', match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)), accept),
      ...(settings.blocked ?? []).map((b) =>
        rule(
          `${b.protocol} ${b.ports} is blocked by the carrier`,
          ...protocolMatch(b.protocol),
          match({ of: 'dport', protocol: null }, portNumbers(portsOf(b.ports, WHERE) ?? [])),
          drop,
        ),
      ),
      // Where the address is shared nothing unasked gets through; whether it is, the gateway's own may deny.
      ...(settings.ipv4 === 'shared'
        ? [
            rule(
              'an address shared with others',
              match({ of: 'family' }, one(NFPROTO_IPV4)),
              doubt({ doubt: 'address-shared' }),
              drop,
            ),
          ]
        : []),
      ...doubts.map((d) =>
        rule(
          'what the carrier writes',
          ...(d.onlyFour ? [match({ of: 'family' }, one(NFPROTO_IPV4))] : []),
          ...(d.protocol ? protocolMatch(d.protocol) : []),
          ...(d.ports ? [match({ of: 'dport', protocol: null }, portNumbers(d.ports))] : []),
          doubt(d.doubt),
          drop,
        ),
      ),
      ...(shield
        ? [
            rule(
              shieldText(shield.when),
              ...(shield.when === 'per-client' && approved
                ? [match({ of: 'source', family: null }, addresses(approved), true)]
                : []),
              ...(shield.when === 'per-client' && shield.approved === undefined
                ? [doubt({ doubt: 'client-approved' })]
                : []),
              ...later,
              drop,
            ),
          ]
        : []),
    ]),
  ]);
}

const shieldText = (when: NonNullable<CarrierSettings['shield']>['when']): string => {
  if (when === 'always') return 'the carrier’s shield drops unsolicited packets';
  return when === 'per-client'
    ? 'the carrier’s shield drops clients that were not approved'
    : 'the carrier’s shield drops unsolicited packets after a while';
};
