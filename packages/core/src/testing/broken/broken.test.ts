import { expect } from 'chai';
import { checkCaseDocument } from '../../case/index.ts';
import { readCase, type CaseFacts } from '../../ledger/index.ts';
import { mendChain, sceneFrom } from '../../mend/index.ts';
import { buildSite } from '../../model/index.ts';
import { parseTarget } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import { diagnosis } from '../../views/index.ts';
import { strToU8 } from 'fflate';
import { brokenCase, filledIn, type BrokenCase } from './index.ts';

const CASES = process.env['STRYKER_MUTATOR_WORKER'] === undefined ? 150 : 60;

/**
 * What their owners cannot show: whether a program that is listed by its name is the file that a row names,
 * what a second list of a perimeter lets in, whether a firewall answers for an address that its mapping
 * names.
 */
const UNTOLD: readonly string[] = ['port-of-program', 'further-list', 'claimed-address'];

/** The case once its owner has answered everything. What was tried while it was broken may be left out. */
function whole({ document, answers }: BrokenCase, hasTries = true): CaseFacts {
  const texts = answers.flatMap(({ stop, yields, texts: own = {} }) =>
    Object.entries(own).map(([name, text]) => ({ stop, asked: `${stop}/${yields}`, name, text })),
  );
  const evidence = texts.map(({ stop, asked, name }) => ({ stop, asked, file: `evidence/${asked}-${name}` }));
  return readCase({
    document: checkCaseDocument({
      ...document,
      evidence,
      observations: hasTries ? answers.flatMap((a) => a.observations ?? []) : [],
    }),
    files: new Map(texts.map(({ asked, name, text }) => [`evidence/${asked}-${name}`, strToU8(text)])),
  });
}

describe('networks that were broken on purpose, with all that their owners can show', () => {
  for (let seed = 1; seed <= CASES; seed++) {
    const broken = brokenCase(seed);
    const title = broken.faults.map((f) => f.id).join(' and ') || 'nothing is wrong';
    it(`${broken.name}, ${broken.network.surroundings}, ${broken.network.system}: ${title}`, () => {
      const facts = whole(broken);
      const { verdict, faults } = diagnosis(facts);
      const isMeant = (f: { id: string; stop: string } | undefined): boolean =>
        broken.faults.some((t) => f && t.acceptIds.includes(f.id) && t.acceptStops.includes(f.stop));
      const named = faults.map((f) => `${f.id}@${f.stop}`).join(', ');
      if (broken.faults.length === 0) {
        expect(verdict.sure && verdict.fault !== null, named).to.equal(false);
        return;
      }
      expect(isMeant(faults[0]), `named ${named || 'nothing'}: ${verdict.text}`).to.equal(true);
      if (!verdict.sure) return;
      // One mend after the other, until the client gets its answer or nobody can say more.
      const packet = packetOf(broken);
      const untried = whole(broken, false);
      const steps = mendChain(untried, sceneFrom(untried, packet, buildSite(untried)));
      const { outcome, needs } = nth(steps, steps.length - 1).trace;
      const open = needs.map(({ need }) => (need.need === 'condition' ? need.doubt.doubt : need.need));
      expect(outcome, open.join(', ')).to.equal(open.length > 0 ? 'unknown' : 'answered');
      expect(UNTOLD).to.include.members(open);
    });
  }
});

describe('the same networks, filled in on forms', () => {
  for (let seed = 1; seed <= CASES; seed++) {
    const broken = filledIn(brokenCase(1000 + seed));
    const title = broken.faults.map((f) => f.id).join(' and ') || 'nothing is wrong';
    it(`${broken.name}, ${broken.network.surroundings}, ${broken.network.system}: ${title}`, () => {
      const { verdict, faults } = diagnosis(whole(broken));
      const isMeant = (id: string | undefined): boolean =>
        broken.faults.some((f) => f.acceptIds.includes(id ?? ''));
      if (verdict.sure && verdict.fault !== null) expect(isMeant(verdict.fault), verdict.text).to.equal(true);
      if (verdict.sure && verdict.fault === null) expect(broken.faults).to.deep.equal([]);
      if (broken.faults.length === 0 || verdict.sure) return;
      // A program that is listed by its name alone may be another file than the one that a row names.
      expect(isMeant(faults[0]?.id) || /belongs to the program/.test(verdict.text), verdict.text).to.equal(
        true,
      );
    });
  }
});

function packetOf({ network: n }: BrokenCase) {
  const to = parseTarget(`${n.answer}:${n.dialledPort}/${n.service.protocol}`);
  const from = parseTarget(`${n.client}:50123/${n.service.protocol}`);
  if (!to || !from) throw new Error('the network names no packet');
  return {
    transport: to.transport,
    source: { address: from.address, port: 50123 },
    destination: { address: to.address, port: to.port },
  };
}
