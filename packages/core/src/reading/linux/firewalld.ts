import { nth } from '../../place/index.ts';
import type { FrontEndListing } from '../../devices/index.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { once, problemAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { frontEndZone, type Listed, type Zone } from './firewalldZone.ts';

const LISTS: Readonly<Record<string, string>> = {
  interfaces: 'interfaces',
  sources: 'sources',
  services: 'services',
  ports: 'ports',
  protocols: 'protocols',
  'source-ports': 'sourcePorts',
  'icmp-blocks': 'icmpBlocks',
};

/**
 * Lines of a zone without effect on a new connection to the machine itself: descriptions, and which of ICMP's
 * messages are answered.
 */
const WITHOUT_EFFECT: ReadonlySet<string> = new Set(['summary', 'description', 'icmp-block-inversion']);

/** What `firewall-cmd` prints where the daemon does not run. */
const OFF = /^(?:FirewallD is )?not running$/im;

/** `firewall-cmd --list-all`, `--list-all-zones`, `--get-active-zones` and `--state` (firewalld.zone(5)). */
export const firewalld: Reader = {
  format: 'firewalld',
  title: 'zones of the host firewall (firewalld)',
  recognise: (text) => {
    if (/^[ \t]+(?:icmp-block-inversion: |rich rules:)/m.test(text)) return 0.96;
    if (OFF.test(text.trim()) && text.trim().split('\n').length === 1) return 0.9;
    return /^[\w-]+(?: \((?:active|default).*\))?\n\s+(?:interfaces|sources): /m.test(text.slice(0, 3000))
      ? 0.92
      : 0;
  },
  read(text) {
    if (OFF.test(text.trim())) {
      const off: FrontEndListing = { program: 'firewalld', on: false, zones: [] };
      const facts = [told('front-end', { line: 1 }, off, 'firewalld is off')];
      return { format: 'firewalld', facts, problems: [], covers: ['front-end'] };
    }
    const { zones, problems } = zonesIn(text);
    const told_ = [...zones].filter(
      ([, z]) =>
        zones.size === 1 || Object.keys(compact(z.zone)).some((k) => k === 'interfaces' || k === 'sources'),
    );
    const facts: Fact[] = [];
    if (zones.size === 1) {
      const [name, only] = nth([...zones], 0);
      facts.push(once('zone', { line: only.line }, name));
      for (const [key, value] of Object.entries(compact(only.zone)))
        facts.push(
          once(key, { line: only.line }, value, Array.isArray(value) ? value.join(', ') : String(value)),
        );
    }
    const [first] = told_;
    if (first) {
      facts.push(
        once(
          'zones',
          { line: first[1].line },
          Object.fromEntries(told_.map(([name, z]) => [name, compact(z.zone)])),
          told_.map(([name]) => name).join(', '),
        ),
      );
      const active = told_.filter(([, z]) => z.active).map(([name, z]) => frontEndZone(name, z));
      const names = active.map((z) => z.name).join(', ');
      if (active.length > 0)
        facts.push(
          told(
            'front-end',
            { line: first[1].line },
            { program: 'firewalld', on: true, zones: active },
            `firewalld is on: ${names}`,
          ),
        );
    }
    const isTold = facts.some((f) => f.kind === 'front-end');
    return { format: 'firewalld', facts, problems, covers: isTold ? ['front-end'] : [] };
  },
};

const compact = (z: Zone): Zone =>
  Object.fromEntries(Object.entries(z).filter(([, v]) => !(Array.isArray(v) && v.length === 0)));

function zonesIn(text: string): { readonly zones: Map<string, Listed>; readonly problems: Problem[] } {
  const zones = new Map<string, Listed>();
  const problems: Problem[] = [];
  let current: Zone | null = null;
  let list: string[] | null = null;
  for (const line of linesOf(text)) {
    if (line.text.trim() === '') continue;
    const head = /^(\S[\w-]*)(?: \(([^)]*)\))?\s*$/.exec(line.text);
    const entry = /^ {2}([\w -]+?):(?: (.*))?$/.exec(line.text);
    if (head) {
      current = {};
      list = null;
      const active = head[2]?.includes('active') ?? true;
      zones.set(nth(head, 1), { zone: current, line: line.number, active });
    } else if (entry && current) {
      const [, key = '', value = ''] = entry;
      const words = value.trim() === '' ? [] : value.trim().split(/\s+/);
      const name = LISTS[key];
      list = null;
      if (name) current[name] = words;
      else if (key === 'forward-ports') current['forwardPorts'] = list = words;
      else if (key === 'rich rules') current['richRules'] = list = [];
      else if (key === 'target') current['target'] = value.trim();
      else if (key === 'masquerade' || key === 'forward') current[key] = value.trim() === 'yes';
      else if (!WITHOUT_EFFECT.has(key) && value.trim() !== '')
        problems.push(problemAt(line, { is: 'zone-setting', key }));
    } else if (list && /^\s+\S/.test(line.text)) list.push(line.text.trim());
    else problems.push(problemAt(line, 'no-zone-line'));
  }
  return { zones, problems };
}
