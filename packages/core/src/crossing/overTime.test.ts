import { expect } from 'chai';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import type { Program, Rule, Step } from '../rules/index.ts';
import type { Site } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { trace } from './index.ts';

const later = (n: number): Step => ({
  do: 'over-time',
  doubt: { doubt: 'earlier-packets', what: `later ${n}` },
});
const chance = (n: number): Step => ({
  do: 'chance',
  doubt: { doubt: 'earlier-packets', what: `chance ${n}` },
});
const DROP: Step = { do: 'verdict', verdict: { verdict: 'drop' } };
const ACCEPT: Step = { do: 'verdict', verdict: { verdict: 'accept' } };
const REJECT: Step = { do: 'verdict', verdict: { verdict: 'reject', kind: 'tcp-reset' } };

/** A host on one link with the client, whose input chain has these rules. */
function hostWith(rules: readonly (readonly Step[])[], sockets: readonly string[] | null): Site {
  const chain = {
    id: 'guard',
    name: 'guard',
    origin: { program: 'device' as const },
    source: null,
    rules: rules.map((steps, i): Rule => ({ id: `guard/${i}`, text: `${i}`, source: null, steps })),
  };
  const program: Program = {
    baseChains: [{ hook: 'input', priority: 0, type: 'filter', policy: 'accept', families: [4], chain }],
    chains: [chain],
  };
  const host = testMachine('host', { interfaces: { eth0: ['198.51.100.9/24'] }, sockets });
  return {
    machines: [
      testMachine('client', { role: 'client', interfaces: { eth0: ['198.51.100.23/24'] } }),
      { ...host, program: { 4: program, 6: null } },
    ],
    sharedAddresses: [],
    internet: null,
  };
}

function phases(rules: readonly (readonly Step[])[], sockets: readonly string[] | null = ['tcp 0.0.0.0:80']) {
  const target = parseTarget('198.51.100.9:80/tcp');
  const source = parseEndpoint('198.51.100.23:40000');
  if (!target || !source) throw new Error('no packet');
  const { transport, address, port } = target;
  const told = trace(hostWith(rules, sockets), { transport, source, destination: { address, port } });
  return {
    outcome: told.outcome,
    phases: told.overTime.map((p) => `${p.phase} ${p.outcome} ${p.run.outcome}`),
  };
}

describe('what a packet meets at first, and after a while', () => {
  it('both, where time is all that is open', () => {
    expect(phases([[later(1), DROP]])).to.deep.equal({
      outcome: 'unknown',
      phases: ['at first answered answered', 'after a while lost lost'],
    });
    expect(phases([[later(1), ACCEPT], [REJECT]])).to.deep.equal({
      outcome: 'unknown',
      phases: ['at first refused refused', 'after a while answered answered'],
    });
  });

  it('the same at both times is no change', () => {
    expect(phases([[later(1), DROP], [DROP]])).to.deep.equal({ outcome: 'lost', phases: [] });
  });

  it('both, where something else that is open does not matter', () => {
    expect(
      phases([
        [later(1), DROP],
        [chance(1), ACCEPT],
      ]).phases,
    ).to.deep.equal(['at first answered answered', 'after a while lost lost']);
  });

  it('neither, where something else decides at one of the times', () => {
    expect(
      phases([
        [later(1), DROP],
        [chance(1), DROP],
      ]),
    ).to.deep.equal({ outcome: 'unknown', phases: [] });
    expect(
      phases([
        [later(1), ACCEPT],
        [chance(1), DROP],
      ]),
    ).to.deep.equal({ outcome: 'unknown', phases: [] });
  });

  it('neither, where two things change with time', () => {
    expect(
      phases([
        [later(1), DROP],
        [later(2), DROP],
      ]),
    ).to.deep.equal({ outcome: 'unknown', phases: [] });
  });

  it('neither, where it comes only up at one of the times', () => {
    expect(
      phases([
        [chance(1), DROP],
        [later(1), DROP],
      ]),
    ).to.deep.equal({ outcome: 'unknown', phases: [] });
  });

  it('neither, where the end is not known at one of them', () => {
    expect(phases([[later(1), DROP]], null)).to.deep.equal({ outcome: 'unknown', phases: [] });
    expect(phases([[chance(1), ACCEPT], [DROP]])).to.deep.equal({ outcome: 'unknown', phases: [] });
  });
});
