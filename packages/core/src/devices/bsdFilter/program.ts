import { CT_STATE, type Origin, type Program } from '../../rules/index.ts';
import { accept, base, bits, match, programOf, rule, type RuleParts } from '../build.ts';
import { applicationRules, type ApplicationFirewall } from './applications.ts';
import { BSD, type BsdLine, parsed } from './line.ts';

const APPLICATIONS: Origin = { program: 'applications' };

/**
 * A machine's own rules in the BSD packet filter (pf.conf(5)): the last rule that matches decides, or the
 * first one that says `quick`. So quick rules come first in their order, then the others from the last to the
 * first; what none matches passes. What passed is answered.
 */
export function bsdFilterProgram(lines: readonly BsdLine[], around: BsdSurroundings): Program {
  const { applications } = around;
  const programs = applications
    ? [base('input', 'filter', 'accept', 'programs', applicationRules(applications), 1, APPLICATIONS)]
    : [];
  if (!around.enabled) return programOf(programs);
  const rules = lines.map((line) => parsed(line, around.interfaces));
  const side = (direction: 'in' | 'out'): RuleParts[] => {
    const own = rules.filter((r) => r.direction === null || r.direction === direction);
    return [
      rule(
        'answers to what passed',
        match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
        accept,
      ),
      ...own.filter((r) => r.quick).map((r) => r.parts),
      ...own
        .filter((r) => !r.quick)
        .reverse()
        .map((r) => r.parts),
    ];
  };
  return programOf([
    ...(around.translates
      ? [
          base('prerouting', 'nat', 'accept', 'translations', [
            rule('(a translation)', { do: 'unmodelled-action', doubt: { doubt: 'translations-listed' } }),
          ]),
        ]
      : []),
    base('input', 'filter', 'accept', 'rules inward', side('in'), 0, BSD),
    ...programs,
    base('output', 'filter', 'accept', 'rules outward', side('out'), 0, BSD),
  ]);
}

/** What the rules are held against. */
export interface BsdSurroundings {
  readonly enabled: boolean;
  /** The machine's interfaces; null: not known. A name that is none of them is a group of interfaces. */
  readonly interfaces: readonly string[] | null;
  /** Its translations lead packets elsewhere. */
  readonly translates?: boolean;
  /** The firewall for programs that is on, or may be. */
  readonly applications?: ApplicationFirewall | null;
}
