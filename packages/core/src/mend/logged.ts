import { writeRule, type RuleWish } from '../devices/index.ts';
import type { TrafficRecord } from '../ledger/index.ts';
import { ADDRESS_LENGTH, prefixOf, type Header } from '../net/index.ts';
import type { Chain, Program, Rule } from '../rules/index.ts';
import type { Mend } from './mend.ts';
import { withProgram, withRule, type Scene } from './scene.ts';
import { stepsOf } from './steps.ts';

/** The filter of a machine of whose rules nobody has told anything. */
const UNLISTED: Chain = {
  id: 'unlisted',
  name: 'its filter',
  origin: { program: 'device' },
  source: null,
  rules: [],
};

/** Where a row for questions to the machine goes: the profile's own list, or the chain of the hook. */
function listOf(program: Program | null | undefined): Chain {
  const profile = program?.chains.find(
    ({ origin, name }) => origin.program === 'profiles' && name.endsWith('inward'),
  );
  return profile ?? program?.baseChains.find((b) => b.hook === 'input')?.chain ?? UNLISTED;
}

/**
 * A machine's log shows that it kept the packet out, whatever is known of its rules: the narrowest row that
 * lets in whoever was kept out, at the port that was tried. Null where the machine is no server.
 */
export function keptOutMend(scene: Scene, record: TrafficRecord, packet: Header): Mend | null {
  const machine = scene.site.machines.find((m) => m.id === record.stop);
  if (machine?.role !== 'host') return null;
  const { family } = record.from;
  const chain = listOf(machine.program[family]);
  const wish: RuleWish = {
    family,
    transport: record.transport,
    peers: [prefixOf(record.from, ADDRESS_LENGTH[family])],
    destination: null,
    port: record.port,
    side: 'question',
    then: { do: 'accept' },
  };
  const written = writeRule(wish, { chain, above: null });
  const id = `mend/logged/${wish.transport}/${wish.port}`;
  const rule: Rule = { id, text: written?.text ?? id, source: null, steps: stepsOf(wish) };
  const isKnown = machine.program[family] !== null && chain !== UNLISTED;
  return {
    fault: 'host-drop',
    stop: machine.id,
    finding: { found: 'not-allowed', chain, rule: null, wish, written },
    evidence: [record.source],
    apply:
      isKnown && packet.source.address.bits === record.from.bits
        ? (before) =>
            withProgram(before, machine.id, family, (p) =>
              withRule(p, chain.id, rule, chain.rules[0]?.id ?? null),
            )
        : null,
  };
}
