import type { NotedFact, Problem } from '../../facts/index.ts';
import { nth } from '../../place/index.ts';
import { lineAt, listed, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import type { Line } from '../text.ts';

/** `8214:8214/udp`, `127.0.0.1:8211:80`, `"40000-40010:40000-40010"`, `80`: the short syntax of ports. */
const SHORT = new RegExp(
  String.raw`^\s*-\s*["']?(?:((?:\d{1,3}\.){3}\d{1,3}|\[[0-9a-f:]+\]):)?` +
    String.raw`(?:(\d{1,5}(?:-\d{1,5})?):)?(\d{1,5}(?:-\d{1,5})?)(?:\/(tcp|udp))?["']?\s*(?:#.*)?$`,
  'i',
);
const LONG = /^\s*(?:-\s*)?(target|published|protocol|host_ip|mode)\s*:\s*["']?([\w.:]+)["']?\s*(?:#.*)?$/;

interface Long {
  readonly line: Line;
  readonly values: Map<string, string>;
}

/** A file that describes containers: what each service publishes, and which share the machine's network. */
export const composeFile: Reader = {
  format: 'container-file',
  title: 'a file that describes containers',
  recognise(text) {
    const head = text.slice(0, 50_000);
    return /^services:\s*$/m.test(head) && /^[ \t]{1,40}(?:image|build|ports|network_mode)[ \t]?:/m.test(head)
      ? 0.96
      : 0;
  },
  read(text) {
    const facts: NotedFact[] = [];
    const problems: Problem[] = [];
    let service = '';
    let [serviceIndent, portsIndent]: [number, number] = [-1, -1];
    let isServices = false;
    let long: Long | null = null;
    const flush = (): void => {
      if (long) facts.push(...longFact(service, long));
      long = null;
    };
    for (const line of written(text)) {
      if (/^\s*#/.test(line.text)) continue;
      const indent = line.text.search(/\S/);
      const key = /^\s*([\w.-]+)\s?:(.*)$/.exec(line.text);
      if (indent === 0 && key) {
        flush();
        isServices = key[1] === 'services';
        [serviceIndent, portsIndent] = [-1, -1];
        continue;
      }
      if (!isServices) continue;
      const isItem = /^\s*-/.test(line.text);
      if (portsIndent >= 0 && (indent > portsIndent || (isItem && indent === portsIndent))) {
        const entry = LONG.exec(line.text);
        const short = isItem ? SHORT.exec(line.text) : null;
        if (isItem) flush();
        if (short && !entry)
          facts.push(published(service, line, short[1], short[2], nth(short, 3), short[4]));
        else if (entry) {
          long ??= { line, values: new Map() };
          long.values.set(nth(entry, 1), nth(entry, 2));
        } else problems.push(problemAt(line, 'container-ports'));
        continue;
      }
      flush();
      portsIndent = -1;
      if (!key) continue;
      if (serviceIndent < 0 || indent <= serviceIndent) {
        serviceIndent = indent;
        service = nth(key, 1);
      } else if (key[1] === 'ports') portsIndent = indent;
      else if (key[1] === 'network_mode' && /^\s*["']?host["']?\s*(?:#|$)/.test(nth(key, 2)))
        facts.push(
          listed('sharesNetwork', lineAt(line), service, `${service} uses the machine’s own network`),
        );
    }
    flush();
    return { format: 'container-file', facts, problems, covers: [] };
  },
};

/** A port without one outside is given any free port at each start: which one is not in the file. */
function published(
  container: string,
  line: Line,
  address: string | undefined,
  outside: string | undefined,
  inside: string,
  protocol: string | undefined,
): NotedFact {
  const ends = (text: string): [number, number] => {
    const [first = 0, last = first] = text.split('-').map(Number);
    return [first, last];
  };
  const transport = (protocol ?? 'tcp').toLowerCase();
  return listed(
    'published',
    lineAt(line),
    {
      container,
      address: (address ?? '0.0.0.0').replace(/^\[|\]$/g, ''),
      ports: outside === undefined ? null : ends(outside),
      containerPorts: ends(inside),
      protocol: transport,
    },
    `${transport} ${outside ?? 'a free port'} → ${container}:${inside}`,
  );
}

function longFact(service: string, { line, values }: Long): NotedFact[] {
  const target = values.get('target');
  if (target === undefined) return [];
  return [
    published(service, line, values.get('host_ip'), values.get('published'), target, values.get('protocol')),
  ];
}
