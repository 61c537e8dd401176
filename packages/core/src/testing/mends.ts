import { mendChain, sceneFrom, type MendStep } from '../mend/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { mendWords } from '../words/index.ts';
import { caseFacts, forwardingGateway, serverEvidence, type TestStop } from './case.ts';

export const CLIENT = { id: 'client', role: 'client' };
export const CARRIER = { id: 'carrier', role: 'carrier' };
export const GATEWAY = { id: 'gateway', role: 'gateway' };
export const HOST = { id: 'host', role: 'host' };
export const ROUTER_PATH = [CLIENT, CARRIER, GATEWAY, HOST];

export const STATUS = 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n';
export const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
export const WHOLE = {
  ...SERVER,
  'gateway/status': STATUS,
  'gateway/forwards': 'tcp 8214 192.168.50.20 8214\n',
};

export interface Given {
  readonly files: Readonly<Record<string, string>>;
  readonly to?: string;
  readonly from?: string;
  readonly path?: readonly TestStop[];
  readonly audience?: unknown;
  readonly endpoints?: readonly unknown[];
  readonly document?: Readonly<Record<string, unknown>>;
}

export function mendSteps({
  files,
  to = '203.0.113.50:8214/tcp',
  from = '198.51.100.23:40000',
  ...more
}: Given): MendStep[] {
  const { path = ROUTER_PATH, audience = 'anyone', endpoints = [{ protocol: 'tcp', port: 8214 }] } = more;
  const facts = caseFacts(path, files, {
    service: { name: 'Gullcast', kind: 'media', audience, endpoints },
    ...more.document,
  });
  const target = parseTarget(to);
  const source = parseEndpoint(from);
  if (!target || !source) throw new Error('the test names no packet');
  const destination = { address: target.address, port: target.port };
  return mendChain(facts, sceneFrom(facts, { transport: target.transport, source, destination }));
}

export const names = (id: string | null): string => id ?? 'network';
export const told = (steps: readonly MendStep[]): string[] =>
  steps.map(({ trace, mend }) => (mend ? `${mend.fault} at ${mend.stop}` : trace.outcome));

/** The lines of the evidence that a mend rests on: `gateway/forwards:2`. */
export const places = ({ mend }: MendStep): string[] =>
  (mend?.evidence ?? []).map(
    (e) => `${e.file.replace(/^evidence\/|\.txt$/g, '')}:${'line' in e ? e.line : '?'}`,
  );

/** What its values become: `Protocol: UDP > TCP`. */
export const values = ({ mend }: MendStep): string[] =>
  (mend ? mendWords(mend, names).values : []).map((v) => `${v.label}: ${v.now ?? '-'} > ${v.mended}`);

/** A rented machine: the client dials it directly, so that its own rules decide. */
export const DIRECT: Given = {
  path: [CLIENT, CARRIER, HOST],
  to: '203.0.113.80:8214/tcp',
  files: {},
};
export const direct = (rules: string, more: Record<string, string> = {}): Given => ({
  ...DIRECT,
  files: {
    ...serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast'], rules),
    ...more,
  },
});
export const nft = (rules: string, policy = 'drop', handle = ''): string =>
  'table inet guard {\n' +
  '\tchain input {\n' +
  `\t\ttype filter hook input priority filter; policy ${policy};\n` +
  `\t\t${rules}${handle}\n` +
  '\t}\n' +
  '}\n';
export const SAVED = (rules: string): Record<string, string> => ({
  'host/rules': `*filter\n:INPUT DROP [0:0]\n:FORWARD DROP [0:0]\n:OUTPUT ACCEPT [0:0]\n${rules}COMMIT\n`,
});

/** A Linux gateway with evidence of its own filter. */
export const linuxGateway = (rules: Record<string, string>): Given => ({
  files: {
    ...SERVER,
    'gateway/addresses':
      '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
      '    inet 127.0.0.1/8 scope host lo\n' +
      '2: wan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 203.0.113.50/24 scope global wan\n' +
      '3: lan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 192.168.50.1/24 scope global lan\n',
    'gateway/routes':
      'default via 203.0.113.1 dev wan\n203.0.113.0/24 dev wan scope link\n' +
      '192.168.50.0/24 dev lan scope link\n',
    'gateway/settings':
      'net.ipv4.ip_forward = 1\n' +
      'net.ipv4.conf.all.rp_filter = 0\n' +
      'net.ipv4.conf.wan.rp_filter = 0\n' +
      'net.ipv4.conf.lan.rp_filter = 0\n',
    'gateway/sockets': 'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n',
    ...rules,
  },
});

/** A router whose forward table somebody filled in, with rows for the service as far as they say no more. */
export const filledIn = (rows: readonly Record<string, unknown>[], more: Record<string, unknown> = {}) =>
  forwardingGateway({
    rows: rows.map((r) => ({ protocol: 'tcp', ports: 8214, to: '192.168.50.20', ...r })),
    clash: 'first',
    ...more,
  });
/** One of several such routers, with one row and the lines that are said of it. */
export const routerAt = (id: string, wan: object, lan: string, row: object): TestStop => ({
  ...filledIn([{ ...row }], {
    interfaces: [
      { name: 'wan', side: 'outside', ...wan },
      { name: 'lan', side: 'inside', addresses: [lan] },
    ],
  }),
  id,
});
export const router = (...rows: Record<string, unknown>[]): Given => ({
  path: [CLIENT, CARRIER, filledIn(rows), HOST],
  files: SERVER,
});

/** A client beside the server, and what its own machine lists. */
export const NEIGHBOUR = { id: 'inside', role: 'client' };
export const NEIGHBOUR_FILES = {
  'inside/addresses':
    '2: wlp2s0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.77/24 scope global wlp2s0\n',
  'inside/routes': 'default via 192.168.50.1 dev wlp2s0\n192.168.50.0/24 dev wlp2s0 scope link\n',
  'inside/rules': 'table inet none {\n}\n',
};

/** What a test holds against the mends of a case: what each is, and the values and lines of the first. */
export interface Told {
  readonly steps: readonly string[];
  readonly values?: readonly string[];
  readonly at?: readonly string[];
}

export const account = (steps: readonly MendStep[]): Required<Told> => ({
  steps: told(steps),
  values: steps[0] ? values(steps[0]) : [],
  at: steps[0] ? places(steps[0]) : [],
});
