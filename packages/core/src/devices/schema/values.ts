import { nth } from '../../place/index.ts';
import { array, boolean, mixed, number, object, string } from 'yup';
import { parseAddress, parsePortRange, parsePrefix } from '../../net/index.ts';

/**
 * Values of settings (docs/formats/settings.md). What only makes sense together is checked by the compilers.
 */

export const address = () =>
  string().test(
    'address',
    '${path} is not an IP address',
    (a) => a === undefined || parseAddress(a) !== null,
  );
export const prefixText = () =>
  string().test(
    'prefix',
    '${path} is not an address or prefix',
    (a) => a === undefined || a === 'any' || parsePrefix(a) !== null,
  );
export const withLength = () =>
  string().test(
    'with-length',
    '${path} is not an address, with or without a prefix length',
    (a) => a === undefined || (/^[^/]+(\/\d{1,3})?$/.test(a) && parseAddress(nth(a.split('/'), 0)) !== null),
  );
export const port = () => number().integer('${path} must be a whole number').min(1).max(65535);
export const ports = () =>
  mixed<string | number>().test(
    'ports',
    '${path} is not a port from 1 to 65535, a range such as 28410-28415, or a list of them',
    (p) =>
      p === undefined ||
      p === 'any' ||
      (typeof p === 'number'
        ? Number.isInteger(p) && p >= 1 && p <= 65535
        : typeof p === 'string' && p.split(',').every((x) => (parsePortRange(x)?.first ?? 0) > 0)),
  );
export const time = () =>
  string().test(
    'time',
    '${path} is not a time (RFC 3339)',
    (t) => t === undefined || !Number.isNaN(Date.parse(t)),
  );
export const oneOf = (...list: string[]) =>
  string().oneOf(list, `\${path} must be one of ${list.join(', ')}`);
export const list = () => array(string().required());

export const record = <T>(check: (value: unknown) => value is T, message: string) =>
  mixed<Record<string, T>>().test(
    'record',
    message,
    (value) =>
      value === undefined ||
      (typeof value === 'object' &&
        value !== null &&
        !Array.isArray(value) &&
        Object.values(value).every(check)),
  );
export const isTextList = (v: unknown): v is string[] =>
  Array.isArray(v) && v.every((t) => typeof t === 'string');

export const anyProtocol = () => oneOf('tcp', 'udp', 'both', 'any').required();
export const device = object({
  name: string().required(),
  side: oneOf('outside', 'inside').required(),
  zone: string(),
  addresses: array(withLength().required()),
  gateway: address(),
  up: boolean(),
  filtersSources: boolean(),
});
export const own = array(object({ protocol: oneOf('tcp', 'udp').required(), ports: ports().required() }));
