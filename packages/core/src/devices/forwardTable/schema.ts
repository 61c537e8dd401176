import { array, boolean, number, object, string, type InferType } from 'yup';
import { address, prefixText, port, ports, time, oneOf, device, own } from '../schema/values.ts';
import { sameKeys } from '../schema/sameKeys.ts';
import type { AskedMapping, ForwardRowSettings, ForwardTableSettings } from './settings.ts';

export const forwardRow = object({
  name: string(),
  protocol: oneOf('tcp', 'udp', 'both').required(),
  ports: ports().required(),
  to: address().required(),
  toPort: port(),
  sources: array(prefixText().required()),
  line: string(),
  enabled: boolean(),
  state: oneOf('applied', 'staged', 'needs-restart'),
});

export const mapping = object({
  protocol: oneOf('tcp', 'udp').required(),
  port: number().integer().min(0).max(65535).required(),
  to: address().required(),
  toPort: port(),
  from: prefixText(),
  until: time(),
  by: string(),
});

export const schema = object({
  interfaces: array(device),
  rows: array(forwardRow).required(),
  exposedHost: address(),
  ownPorts: own,
  clash: oneOf('first', 'last', 'refused'),
  hairpin: boolean(),
  keptBy: oneOf('gateway', 'carrier'),
  answersBy: oneOf('same-line', 'default-line'),
  mappings: array(mapping),
  at: time(),
});

sameKeys<InferType<typeof schema>, Omit<ForwardTableSettings, 'kind'>>(true);
sameKeys<InferType<typeof forwardRow>, ForwardRowSettings>(true);
sameKeys<InferType<typeof mapping>, AskedMapping>(true);
