import { CT_STATE, type Program, type Step } from '../../rules/index.ts';
import {
  accept,
  addresses,
  addressesOf,
  base,
  bits,
  drop,
  match,
  portNumbers,
  portsOf,
  programOf,
  protocolMatch,
  rule,
} from '../build.ts';
import type { CarrierSettings } from './settings.ts';

const WHERE = 'carrier';

/**
 * What a carrier does with packets towards its customers: blocked ports and the shield. Answers pass.
 * @throws SettingsError for a value that cannot be read
 */
export function carrierProgram(settings: CarrierSettings): Program {
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
      ...(shield
        ? [
            rule(
              shieldText(shield.when),
              ...(shield.when === 'per-client' && approved
                ? [match({ of: 'source', family: null }, addresses(approved), true)]
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
