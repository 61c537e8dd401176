import { withId } from '../place/index.ts';
import {
  relayDevice,
  withDevice,
  zoneFirewallDevice,
  type ForwardRow,
  type RelaySettings,
} from '../devices/index.ts';
import {
  buildSite,
  forwardCompiler,
  forwardRows,
  knowsForwards,
  zonesAt,
  type ListedZones,
} from '../model/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import type { Family, Header } from '../net/index.ts';
import type { Machine, Site } from '../site/index.ts';
import type { BaseChain, Chain, Program, Rule, Step } from '../rules/index.ts';

/** A case ready to be traced: the model and one packet. A rehearsal is another scene. */
export interface Scene {
  readonly site: Site;
  readonly packet: Header;
  /** Forward tables by stop, as rows: edits of a plain router happen there. */
  readonly rows: ReadonlyMap<string, readonly ForwardRow[]>;
  /** Firewalls with zones by stop, as a mend has left them; missing: as the case has them. */
  readonly zones?: ReadonlyMap<string, ListedZones>;
  /** Relays by stop, as a mend has left them; missing: as the case has them. */
  readonly relays?: ReadonlyMap<string, RelaySettings>;
  /** How each of these tables becomes a program. */
  readonly recompile: ReadonlyMap<string, (rows: readonly ForwardRow[]) => Program>;
}

export function sceneFrom(facts: CaseFacts, packet: Header, site: Site = buildSite(facts)): Scene {
  const known = facts.document.path.filter((stop) => knowsForwards(facts, stop.id));
  const rows = new Map(known.map((stop) => [stop.id, forwardRows(facts, stop.id)]));
  const recompile = new Map(
    known.map((stop) => [stop.id, forwardCompiler(stop, withId(site.machines, stop.id), facts)]),
  );
  return { site, packet, rows, recompile };
}

/** The scene with one machine changed. */
export function withMachine(scene: Scene, id: string, change: (machine: Machine) => Machine): Scene {
  return {
    ...scene,
    site: { ...scene.site, machines: scene.site.machines.map((m) => (m.id === id ? change(m) : m)) },
  };
}

/** The scene with the rules of one family at a machine changed; as it is where they are not known. */
export const withProgram = (
  scene: Scene,
  stop: string,
  family: Family,
  change: (program: Program) => Program,
): Scene =>
  withMachine(scene, stop, (m) => {
    const program = m.program[family];
    return program ? { ...m, program: { ...m.program, [family]: change(program) } } : m;
  });

/** The scene with the steps of one rule changed. */
export const withSteps = (
  scene: Scene,
  stop: string,
  family: Family,
  rule: Rule,
  change: (steps: readonly Step[]) => Step[],
): Scene =>
  withProgram(scene, stop, family, (p) => replaceRule(p, rule.id, (r) => ({ ...r, steps: change(r.steps) })));

/** The scene with other leases at a relay. */
export function withRelay(scene: Scene, stop: string, settings: RelaySettings): Scene {
  const changed = withMachine(scene, stop, (m) => withDevice(m, relayDevice(settings)));
  return { ...changed, relays: new Map([...(scene.relays ?? []), [stop, settings]]) };
}

/** The firewall with zones at a stop, as the scene has it; null where it is of another kind. */
export const zonesIn = (facts: CaseFacts, scene: Scene, machine: Machine): ListedZones | null =>
  scene.zones?.get(machine.id) ?? zonesAt(facts, machine, scene.rows.get(machine.id) ?? []);

/** The scene with other rules and translations at a firewall with zones, compiled by its own compiler. */
export function withZones(scene: Scene, stop: string, zones: ListedZones): Scene {
  const changed = withMachine(scene, stop, (m) => {
    const laid = withDevice(m, zoneFirewallDevice(zones.settings, zones.listing));
    return zones.listing ? { ...laid, program: { 4: laid.program[4], 6: m.program[6] } } : laid;
  });
  return { ...changed, zones: new Map([...(scene.zones ?? []), [stop, zones]]) };
}

/** The scene with another forward table at a plain router. */
export function withRows(scene: Scene, stop: string, rows: readonly ForwardRow[]): Scene {
  const changed = withMachine(scene, stop, (m) => ({
    ...m,
    program: { ...m.program, 4: scene.recompile.get(stop)!(rows) },
  }));
  return { ...changed, rows: new Map([...scene.rows, [stop, rows]]) };
}

/** The scene with one row of a forward table changed. */
export const withRow = (
  scene: Scene,
  stop: string,
  rows: readonly ForwardRow[],
  row: ForwardRow,
  change: Partial<ForwardRow>,
): Scene =>
  withRows(
    scene,
    stop,
    rows.map((r) => (r === row ? { ...r, ...change } : r)),
  );

/** The program with one more rule in a chain, before the rule given (or at its end). */
export function withRule(program: Program, chain: string, rule: Rule, before: string | null): Program {
  return mapChains(program, (c) => {
    if (c.id !== chain) return c;
    const at = before === null ? -1 : c.rules.findIndex((r) => r.id === before);
    const rules = [...c.rules];
    rules.splice(at < 0 ? rules.length : at, 0, rule);
    return { ...c, rules };
  });
}

/** The program without a row of a device, which may be several rules of the same text. */
export const withoutRow = (program: Program, { text }: Rule): Program =>
  mapChains(program, (c) => ({ ...c, rules: c.rules.filter((r) => r.text !== text) }));

/** The program with the rules of a chain in another order. */
export const withOrder = (program: Program, chain: string, rules: readonly Rule[]): Program =>
  mapChains(program, (c) => (c.id === chain ? { ...c, rules: [...rules] } : c));

/** The program with one rule replaced. */
function replaceRule(program: Program, id: string, change: (rule: Rule) => Rule): Program {
  return mapChains(program, (c) =>
    c.rules.some((r) => r.id === id) ? { ...c, rules: c.rules.map((r) => (r.id === id ? change(r) : r)) } : c,
  );
}

/** Rebuilds all chains, so that jumps lead to the changed ones. */
function mapChains(program: Program, change: (chain: Chain) => Chain): Program {
  const fresh = new Map<string, Chain & { rules: Rule[] }>();
  for (const chain of new Set([...program.chains, ...program.baseChains.map((b) => b.chain)]))
    fresh.set(chain.id, { ...change(chain), rules: [...change(chain).rules] });
  const target = (chain: Chain): Chain => fresh.get(chain.id) ?? chain;
  for (const chain of fresh.values()) {
    chain.rules.forEach((rule, i) => {
      chain.rules[i] = {
        ...rule,
        steps: rule.steps.map((step) => {
          if (step.do === 'verdict' && 'chain' in step.verdict)
            return { ...step, verdict: { ...step.verdict, chain: target(step.verdict.chain) } };
          if (step.do === 'verdict-map')
            return {
              ...step,
              lookup: {
                ...step.lookup,
                rows: step.lookup.rows.map((row) =>
                  'chain' in row.value
                    ? { ...row, value: { ...row.value, chain: target(row.value.chain) } }
                    : row,
                ),
              },
            };
          return step;
        }),
      };
    });
  }
  const bases: BaseChain[] = program.baseChains.map((b) => ({ ...b, chain: target(b.chain) }));
  return { baseChains: bases, chains: [...fresh.values()] };
}
