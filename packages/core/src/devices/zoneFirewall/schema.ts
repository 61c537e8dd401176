import { array, boolean, lazy, object, string, type ObjectSchema, type InferType } from 'yup';
import {
  address,
  prefixText,
  port,
  ports,
  oneOf,
  list,
  record,
  isTextList,
  device,
  own,
} from '../schema/values.ts';
import { sameKeys } from '../schema/sameKeys.ts';
import type { ZoneFirewallSettings, ZoneRule } from './settings.ts';

const translation = lazy((value: { type?: string } | undefined): ObjectSchema<object> => {
  const common = {
    type: oneOf('one-to-one', 'port-forward', 'source').required(),
    name: string(),
    enabled: boolean(),
  };
  if (value?.type === 'one-to-one')
    return object({
      ...common,
      outside: string().required(),
      inside: address().required(),
      twoWay: boolean().required(),
    });
  if (value?.type === 'port-forward')
    return object({
      ...common,
      fromZone: string(),
      outside: string().required(),
      protocol: oneOf('tcp', 'udp', 'both').required(),
      ports: ports().required(),
      to: address().required(),
      toPort: port(),
      sources: array(prefixText().required()),
    });
  return object({
    ...common,
    fromZone: string().required(),
    toZone: string().required(),
    to: string().required(),
    sources: list(),
  });
});

const rule = object({
  name: string(),
  action: oneOf('allow', 'drop', 'reject').required(),
  fromZone: string(),
  toZone: string(),
  sources: list(),
  destinations: list(),
  services: list(),
  enabled: boolean(),
});

export const schema = object({
  interfaces: array(device).required(),
  extraAddresses: array(address().required()),
  names: record(isTextList, '${path} must give a list of prefixes for each name'),
  services: record(
    (v): v is object[] =>
      Array.isArray(v) &&
      v.every(
        (s) =>
          typeof s === 'object' && s !== null && typeof (s as { protocol?: unknown }).protocol === 'string',
      ),
    '${path} must give a list of protocols and ports for each name',
  ),
  translations: array(translation as never).required(),
  rules: array(rule).required(),
  otherwise: oneOf('drop', 'reject', 'allow').required(),
  destinationSeen: oneOf('before', 'after'),
  zoneSeen: oneOf('before', 'after'),
  ownPorts: own,
  answersBy: oneOf('same-line', 'default-line'),
});

sameKeys<InferType<typeof schema>, Omit<ZoneFirewallSettings, 'kind'>>(true);
sameKeys<InferType<typeof rule>, ZoneRule>(true);
