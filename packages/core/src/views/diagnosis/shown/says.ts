import { dialSlips } from '../../bench/dialSlips.ts';
import type { ShownFault } from '../../../words/index.ts';
import { fails, fault, FITS, LIKELY, MAY_BE, outcomesOf, works, type Detector } from './told.ts';

/** A port that is missing or another one may be meant so; a slip in what was typed is none. */
const MEANT: ReadonlySet<string> = new Set(['port-missing', 'port-other']);

const dialSyntax: Detector = ({ facts, client }) => {
  const problems = dialSlips(facts);
  const [first] = problems;
  if (!first) return null;
  const slip = problems.find((p) => !MEANT.has(p.kind));
  const id = slip?.kind === 'inside-address' ? 'dial-private' : 'dial-syntax';
  return fault(id, client, slip ? LIKELY : MAY_BE, [], (slip ?? first).text);
};

const GREETINGS: readonly (readonly [ShownFault, RegExp])[] = [
  [
    'listen-acl',
    new RegExp(
      String.raw`no pg_hba|not allowed|access denied|permission denied|noauth|protected mode|` +
        String.raw`is not permitted|no entry for`,
      'i',
    ),
  ],
  [
    'listen-full',
    new RegExp(
      String.raw`too many (?:clients|connections|users)|server (?:is )?full|` +
        String.raw`max(?:imum)? (?:number of )?(?:clients|connections)|remaining connection slots`,
      'i',
    ),
  ],
  ['listen-tls', /\bssl\b|\btls\b|wrong version number|plain http request|certificate|handshake|encrypt/i],
  ['gateway-port', /gateway sign.?in|router.{0,20}(?:log.?in|page)|sign in to (?:your )?(?:router|gateway)/i],
];

const programWords: Detector = ({ says, tries, host, gateway }) => {
  const heard = [
    says,
    ...tries.filter((o) => o.vantage !== 'host' && o.vantage !== 'lan').map((o) => o.greeting ?? ''),
  ].join('\n');
  const hit = GREETINGS.find(([, words]) => words.test(heard));
  return hit ? fault(hit[0], hit[0] === 'gateway-port' ? gateway : host, LIKELY) : null;
};

const FROM_INSIDE = new RegExp(
  String.raw`(?:from|at|in) (?:my|the|our) (?:laptop|house|home|wi-?fi|own network|living room|couch)|` +
    String.raw`from inside|on the same (?:network|wi-?fi)`,
);
const WHILE_DOWN = new RegExp(
  String.raw`(?:had|was|were) (?:stopped|off|not running|down)|` +
    String.raw`(?:stopped|switched off) the (?:server|program)|not running (?:then|yet)`,
);

const tests: Detector = (t) => {
  const { says, client, host } = t;
  const mine = outcomesOf(t, 'client', 'client-by-name');
  const outside = outcomesOf(t, 'outside');
  if (/\bping(?:s|ed|ing)?\b/.test(says)) return fault('test-ping', client, LIKELY);
  if (FROM_INSIDE.test(says) && works(outside)) return fault('test-from-inside', client, LIKELY);
  if (WHILE_DOWN.test(says) && (works(mine) || works(outside))) return fault('test-while-down', host, LIKELY);
  const isUdp = t.facts.document.service?.endpoints?.every((e) => e.protocol === 'udp') ?? false;
  if (isUdp && /\btcp\b|port (?:check|test)|checker|open.?port|tester/.test(says) && !fails(mine))
    return fault('test-wrong-protocol', client, LIKELY);
  if (
    isUdp &&
    /no (?:answer|reply)|silen|nothing|empty packet|netcat|\bnc\b/.test(says) &&
    (works(outside) || works(mine))
  )
    return fault('test-udp-silence', client, FITS);
  return null;
};

/** What the caller says, and what a program said to them. */
export const SAYS: readonly Detector[] = [dialSyntax, tests, programWords];
