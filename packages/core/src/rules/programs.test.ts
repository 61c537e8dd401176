import { expect } from 'chai';
import fc from 'fast-check';
import { packetSets, rulePrograms } from '../testing/index.ts';
import { Effort } from './effort.ts';
import { runBaseChain } from './evaluate.ts';
import { givenList } from './given.ts';
import type { RuleHost, Visit } from './host.ts';
import { runChainOnSets } from './sets/chains.ts';
import type { PacketSet } from './sets/packetSet.ts';

const { answersOf, everyPacket, plainOf, Reference, setOf, subjectOf, worlds } = rulePrograms;
type World = rulePrograms.World;
type Seen = rulePrograms.Seen;

describe('any program of rules', () => {
  it('does with a packet what its rules say, one after the other', () =>
    fc.assert(
      fc.property(worlds(true), fc.constantFrom(...everyPacket), (world, at) => {
        const reference = new Reference(world);
        const plain = plainOf(world, at);
        const ended = reference.walk(world.chain, plain);
        const subject = subjectOf(world, at);
        const visits: Visit[] = [];
        const result = runBaseChain(
          {
            hook: 'input',
            priority: 0,
            type: world.type,
            policy: world.policy,
            families: [4],
            chain: world.chain,
          },
          subject,
          hostOf(world, visits),
        );
        expect(result.verdict).to.equal(ended === 'through' ? world.policy : ended);
        expect(result.rule?.id ?? null).to.equal(ended === 'through' ? null : reference.met.at(-1));
        expect(subject.mark).to.equal(plain.mark);
        expect(subject.tracking?.session?.mark ?? 0).to.equal(plain.sessionMark);
        expect(subject.untracked).to.equal(plain.untracked);
        expect(visits.map(seenOf)).to.deep.equal(reference.seen);
      }),
      { numRuns: 300 },
    )).timeout(60_000);

  it('does the same with all packets at once', () =>
    fc.assert(
      fc.property(worlds(true), fc.boolean(), (world, tellsHits) => {
        const answers = answersOf(world.draw);
        const found = runChainOnSets(world.chain, [setOf(world)], {
          stop: 'm',
          lookUp: (_, part) => [{ part, value: 0 }],
          ownAddresses: () => [],
          effort: new Effort('a test'),
          chainType: world.type,
          ...(tellsHits ? { onHit: () => undefined } : {}),
        });
        const isHere = (set: PacketSet): boolean =>
          givenList(set.given).every((g) => answers(g.question, g.options) === g.answer);
        for (const at of everyPacket) {
          const reference = new Reference(world);
          const plain = plainOf(world, at);
          const ended = reference.walk(world.chain, plain);
          const where = (['accepted', 'through', 'open'] as const).flatMap((list) =>
            found[list]
              .filter((set) => packetSets.holds(set, [at.from, 0xcb00_7109, 40000, at.port]) && isHere(set))
              .map((set) => ({
                list,
                mark: set.mark,
                sessionMark: set.tracking?.session?.mark ?? 0,
                untracked: set.untracked,
              })),
          );
          const { mark, sessionMark, untracked } = plain;
          const list = ended === 'accept' ? 'accepted' : ended;
          const isGone = ended === 'drop' || ended === 'reject';
          expect(where, `from ${at.from} to ${at.port}`).to.deep.equal(
            isGone ? [] : [{ list, mark, sessionMark, untracked }],
          );
        }
      }),
      { numRuns: 100 },
    )).timeout(60_000);

  it('tells of every rule that some packet meets, and of no other', () =>
    fc.assert(
      fc.property(worlds(false), (world) => {
        const hits = new Set<string>();
        runChainOnSets(world.chain, [setOf(world)], {
          stop: 'm',
          lookUp: (_, part) => [{ part, value: 0 }],
          ownAddresses: () => [],
          effort: new Effort('a test'),
          chainType: world.type,
          onHit: (rule) => hits.add(rule.id),
        });
        const met = everyPacket.flatMap((at) => {
          const reference = new Reference(world);
          reference.walk(world.chain, plainOf(world, at));
          return reference.met;
        });
        expect([...hits].sort()).to.deep.equal([...new Set(met)].sort());
      }),
      { numRuns: 100 },
    )).timeout(60_000);
});

function hostOf(world: World, visits: Visit[]): RuleHost {
  const none = () => 'done' as const;
  return {
    stop: 'm',
    ask: answersOf(world.draw),
    chainType: world.type,
    translate: none,
    masquerade: none,
    redirect: none,
    lookUp: () => 0,
    record: {
      visited: (visit) => visits.push(visit),
      skipped: (rules) => {
        const list = [...rules.visits()];
        expect(list).to.have.lengthOf(rules.count);
        visits.push(...list);
      },
    },
  };
}

function seenOf({ rule, hit, missed }: Visit): Seen {
  const value = missed?.value;
  const number = typeof value === 'object' && value !== null ? Number(value.bits) : (value ?? null);
  return { id: rule.id, hit, missed: missed && { field: missed.field, value: number } };
}
