import { parseAddress } from '../../net/index.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import { spanOf, type Line } from '../text.ts';
import { problemAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

type State = 'open' | 'closed' | 'filtered';

/** What testers call the three things that can come of it, in several languages; the first hit wins. */
const STATES: readonly (readonly [State, RegExp])[] = [
  [
    'filtered',
    new RegExp(
      String.raw`\b(open\|filtered|filtered|stealth|timed? ?out|no (answer|response|reply)|` +
        String.raw`unreachable|not reachable|zeit[üu]berschreitung|nicht erreichbar|` +
        String.raw`d[ée]lai d[ée]pass[ée]|injoignable|tiempo agotado|tempo esgotado)\b`,
      'i',
    ),
  ],
  [
    'closed',
    new RegExp(
      String.raw`\b(closed|refused|not open|isn['’]t open|nicht offen|geschlossen|ferm[ée]e?|cerrado|` +
        String.raw`fechad[oa])(?![\p{L}])`,
      'iu',
    ),
  ],
  [
    'open',
    /\b(open|reachable|offen|erreichbar|ouverte?|abierto|abert[oa]|success(?:ful(?:ly)?)?)(?![\p{L}])/iu,
  ],
];
/** `8214/tcp`, `Port 8214`, `203.0.113.50:8214`; the word for a port in several languages. */
const PORT = new RegExp(
  String.raw`\b(\d{1,5})\/(tcp|udp)\b|\bp(?:ort|uerto|orta)s?` +
    String.raw`(?: (?:tcp|udp|number|nr\.?|no\.?))?\s{0,9}[:#(=]?\s{0,9}(\d{1,5})\b|` +
    String.raw`(?:\d{1,3}\.){3}\d{1,3}:(\d{1,5})\b|\](?::)(\d{1,5})\b`,
  'i',
);
const ADDRESS = /(?<![\d.])((?:\d{1,3}\.){3}\d{1,3})(?![\d.])/;

interface Tested {
  readonly port: number;
  readonly protocol: 'tcp' | 'udp' | null;
  readonly state: State;
  readonly address: string | null;
}

function testedIn(line: Line): Tested | null {
  const port = PORT.exec(line.text);
  const state = STATES.find(([, words]) => words.test(line.text))?.[0];
  const number = Number(port?.[1] ?? port?.[3] ?? port?.[4] ?? port?.[5] ?? NaN);
  if (!port || !state || !(number >= 1 && number <= 65_535)) return null;
  const protocol = (port[2] ?? /\b(tcp|udp)\b/i.exec(line.text)?.[1])?.toLowerCase() as Tested['protocol'];
  const address = ADDRESS.exec(line.text)?.[1] ?? null;
  return {
    port: number,
    protocol: protocol ?? null,
    state,
    address: address !== null && parseAddress(address) ? address : null,
  };
}

const TABLE = /^[ \t]*PORT[ \t]+STATE\b/m;
/** Lines around such a test that say nothing about a port. */
const AROUND =
  /^(?:PORT\s+STATE|Host is up|Not shown|All \d+|\S{1,40} scan report|Starting|[^\n]{0,200}\bdone:|#|-+$)/i;

/**
 * What an outside test of a port says, as its page or program words it. Where it does not say so, it tests
 * TCP; a UDP port is told apart.
 */
export const outsideTest: Reader = {
  format: 'outside-test',
  title: 'an outside test of a port',
  recognise(text) {
    if (text.length > 20_000) return 0;
    const lines = written(text);
    const hits = lines.filter((l) => testedIn(l) !== null).length;
    if (hits === 0) return 0;
    if (TABLE.test(text)) return 0.92;
    return hits * 2 >= lines.length ? 0.7 : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    let address: string | null = null;
    for (const line of written(text)) {
      const tested = testedIn(line);
      address = tested?.address ?? ADDRESS.exec(line.text)?.[1] ?? address;
      if (tested) {
        const value = { ...tested, address: tested.address ?? address };
        facts.push(
          told(
            'outside-test',
            spanOf(line, String(tested.port)),
            value,
            `${tested.protocol?.toUpperCase() ?? 'TCP (presumed)'} ` +
              `${tested.port}${value.address ? ` at ${value.address}` : ''}: ` +
              `${tested.state}` +
              `${tested.state === 'open' ? '' : '; that tells of the way only while the program is running'}`,
          ),
        );
      } else if (!AROUND.test(line.text.trimStart()) && !ADDRESS.test(line.text))
        problems.push(problemAt(line, 'no-port-named'));
    }
    return { format: 'outside-test', facts, problems, covers: [] };
  },
};
