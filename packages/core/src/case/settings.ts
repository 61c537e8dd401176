import { array, boolean, lazy, mixed, number, object, string, type ObjectSchema } from 'yup';
import { parseAddress, parsePortRange, parsePrefix } from '../net/index.ts';

/** Shapes of the `settings` of a stop (docs/formats/settings.md). Values that only make sense together are checked by the compilers. */

const address = () => string().test('address', '${path} is not an IP address', (a) => a === undefined || parseAddress(a) !== null);
const prefixText = () => string().test('prefix', '${path} is not an address or prefix', (a) => a === undefined || a === 'any' || parsePrefix(a) !== null);
const withLength = () => string().test('with-length', '${path} is not an address, with or without a prefix length', (a) => a === undefined || /^[^/]+(\/\d{1,3})?$/.test(a) && parseAddress(a.split('/')[0]!) !== null);
const port = () => number().integer('${path} must be a whole number').min(1).max(65535);
const ports = () => mixed<string | number>().test('ports', '${path} is not a port, a range such as 28410-28415, or a list of them', (p) => p === undefined || p === 'any' || (typeof p === 'number' ? Number.isInteger(p) && p >= 0 && p <= 65535 : typeof p === 'string' && p.split(',').every((x) => parsePortRange(x) !== null)));
const time = () => string().test('time', '${path} is not a time (RFC 3339)', (t) => t === undefined || !Number.isNaN(Date.parse(t)));
const oneOf = (...list: string[]) => string().oneOf(list, `\${path} must be one of ${list.join(', ')}`);
const list = () => array(string().required());

const device = object({
  name: string().required(), side: oneOf('outside', 'inside').required(), zone: string(), addresses: array(withLength().required()), gateway: address(), up: boolean(), filtersSources: boolean(),
});
const own = array(object({ protocol: oneOf('tcp', 'udp').required(), ports: ports().required() }));
const forwardRow = object({
  name: string(), protocol: oneOf('tcp', 'udp', 'both').required(), ports: ports().required(), to: address().required(), toPort: port(), sources: array(prefixText().required()), line: string(), enabled: boolean(), state: oneOf('applied', 'staged', 'needs-restart'),
});
const mapping = object({ protocol: oneOf('tcp', 'udp').required(), port: port().required(), to: address().required(), toPort: port(), until: time(), by: string() });
const record = <T>(check: (value: unknown) => value is T, message: string) => mixed<Record<string, T>>().test('record', message, (value) => value === undefined || (typeof value === 'object' && value !== null && !Array.isArray(value) && Object.values(value).every(check)));
const isTextList = (v: unknown): v is string[] => Array.isArray(v) && v.every((t) => typeof t === 'string');

const translation = lazy((value: { type?: string } | undefined): ObjectSchema<object> => {
  const common = { type: oneOf('one-to-one', 'port-forward', 'source').required(), name: string(), enabled: boolean() };
  if (value?.type === 'one-to-one') return object({ ...common, outside: string().required(), inside: address().required(), twoWay: boolean().required() });
  if (value?.type === 'port-forward') return object({ ...common, outside: string().required(), protocol: oneOf('tcp', 'udp', 'both').required(), ports: ports().required(), to: address().required(), toPort: port(), sources: array(prefixText().required()) });
  return object({ ...common, fromZone: string().required(), toZone: string().required(), to: string().required(), sources: list() });
});

const line = lazy((value: { type?: string } | undefined): ObjectSchema<object> => {
  const type = oneOf('port', 'address', 'many').required();
  if (value?.type === 'port') return object({ type, protocol: oneOf('tcp', 'udp').required(), outside: string().required(), outsidePort: port().required(), inside: address().required(), insidePort: port().required() });
  if (value?.type === 'address') return object({ type, outside: address().required(), inside: address().required() });
  return object({ type, sources: array(prefixText().required()) });
});

const anyProtocol = () => oneOf('tcp', 'udp', 'both', 'any').required();
const subnetRows = array(object({ number: number().required(), action: oneOf('allow', 'deny').required(), protocol: anyProtocol(), ports: ports(), peers: array(prefixText().required()) })).required();

const KINDS: Readonly<Record<string, ObjectSchema<object>>> = {
  'forward-table': object({ interfaces: array(device), rows: array(forwardRow).required(), exposedHost: address(), ownPorts: own, clash: oneOf('first', 'last', 'refused'), hairpin: boolean(), keptBy: oneOf('gateway', 'carrier'), answersBy: oneOf('same-line', 'default-line'), mappings: array(mapping), at: time() }),
  'zone-firewall': object({
    interfaces: array(device).required(), extraAddresses: array(address().required()), names: record(isTextList, '${path} must give a list of prefixes for each name'),
    services: record((v): v is object[] => Array.isArray(v) && v.every((s) => typeof s === 'object' && s !== null && typeof (s as { protocol?: unknown }).protocol === 'string'), '${path} must give a list of protocols and ports for each name'),
    translations: array(translation as never).required(),
    rules: array(object({ name: string(), action: oneOf('allow', 'drop', 'reject').required(), fromZone: string(), toZone: string(), sources: list(), destinations: list(), services: list(), enabled: boolean() })).required(),
    otherwise: oneOf('drop', 'reject', 'allow').required(), destinationSeen: oneOf('before', 'after'), zoneSeen: oneOf('before', 'after'), ownPorts: own,
  }),
  'translation-lines': object({ interfaces: array(device).required(), lines: array(line as never).required(), outsidePrefixes: array(prefixText().required()), ownPorts: own }),
  'allow-list': object({
    lists: array(object({ name: string().required(), rows: array(object({ name: string(), protocol: anyProtocol(), ports: ports(), sources: list().required() })).required() })).required(),
    groups: record(isTextList, '${path} must give a list of addresses for each group'), subnetList: object({ in: subnetRows, out: subnetRows }).default(undefined), publicAddress: string(), insideAddress: address(),
  }),
  'host-profiles': object({
    active: string(),
    profiles: record((v): v is object => typeof v === 'object' && v !== null && ['block', 'allow'].includes(String((v as { in?: unknown }).in)) && ['block', 'allow'].includes(String((v as { out?: unknown }).out)), '${path} must say “in” and “out” (block or allow) for each profile').required(),
    rows: array(object({ name: string(), enabled: boolean(), direction: oneOf('in', 'out').required(), action: oneOf('allow', 'allow-if-authenticated', 'block').required(), profiles: list(), program: string(), protocol: anyProtocol(), localPorts: ports(), remotePorts: ports(), localAddresses: list(), remoteAddresses: list() })).required(),
    silentWhenClosed: boolean(),
  }),
  carrier: object({
    ipv4: oneOf('own', 'shared', 'none'), sharedAddresses: array(address().required()), blocked: array(object({ protocol: oneOf('tcp', 'udp', 'both').required(), ports: ports().required() })),
    shield: object({ when: oneOf('always', 'after-a-while', 'per-client').required(), approved: array(prefixText().required()) }).default(undefined), portal: array(forwardRow),
  }),
  relay: object({ address: address().required(), tunnelAddress: withLength().required(), leases: array(object({ protocol: oneOf('tcp', 'udp', 'both').required(), port: port().required(), to: address().required(), toPort: port(), until: time() })).required(), hidesClient: boolean(), at: time() }),
};

/** The shape of any settings; an unknown kind names the known ones. */
export const settingsSchema = lazy((value: { kind?: string } | undefined): ObjectSchema<object> => {
  if (value === undefined) return object().default(undefined) as unknown as ObjectSchema<object>;
  const shape = KINDS[String(value?.kind)];
  return shape ? (shape.concat(object({ kind: string().required() })) as ObjectSchema<object>) : object({ kind: oneOf(...Object.keys(KINDS)).required() });
});
