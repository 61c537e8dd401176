import { awaited, type CaseFacts } from '../ledger/index.ts';
import type { BaseChain, Chain, Doubt, Program } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { everyTransport } from '../site/index.ts';

/**
 * Stops that were changed after what is known of them was taken: what they do now is open, until the
 * listing that shows the change is in.
 */
export function withChanges(facts: CaseFacts, machines: readonly Machine[]): Machine[] {
  const changes = awaited(facts);
  if (changes.length === 0) return [...machines];
  return machines.map((machine) =>
    changes
      .filter((c) => c.stop === machine.id)
      .reduce<Machine>((m, { yields, title }) => {
        switch (yields) {
          case 'forwards':
          case 'rules':
          case 'allow-list':
          case 'mappings':
            return { ...m, program: opened(m.program, { doubt: 'changed-since', title }) };
          case 'sockets':
          case 'configuration':
            return {
              ...m,
              sockets: null,
              presumed: { ...m.presumed, socketsComplete: everyTransport(false) },
            };
          case 'routes':
          case 'addresses':
            return { ...m, routes: { 4: null, 6: null } };
          default:
            return m;
        }
      }, machine),
  );
}

const opened = (program: Machine['program'], doubt: Doubt): Machine['program'] => ({
  4: program[4] && withDoubt(program[4], doubt),
  6: program[6] && withDoubt(program[6], doubt),
});

/** A rule set before which something may stand that lets through, ends or translates any packet. */
export function withDoubt(program: Program, doubt: Doubt): Program {
  const id = `open/${doubt.doubt}`;
  const chain: Chain = {
    id,
    name: 'not known',
    origin: { program: 'device' },
    source: null,
    rules: [
      {
        id: `${id}/1`,
        text: '(what it does now)',
        source: null,
        steps: [{ do: 'unmodelled-action', doubt }],
      },
    ],
  };
  const base: BaseChain = {
    hook: 'prerouting',
    priority: -101,
    type: 'nat',
    policy: 'accept',
    families: [4, 6],
    chain,
  };
  return { baseChains: [base, ...program.baseChains], chains: [chain, ...program.chains] };
}
