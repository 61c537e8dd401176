import { array, object, type InferType } from 'yup';
import { address, prefixText, ports, oneOf } from '../schema/values.ts';
import { sameKeys } from '../schema/sameKeys.ts';
import type { CarrierSettings } from './settings.ts';
import { forwardRow } from '../forwardTable/schema.ts';

export const schema = object({
  ipv4: oneOf('own', 'shared', 'none'),
  sharedAddresses: array(address().required()),
  blocked: array(object({ protocol: oneOf('tcp', 'udp', 'both').required(), ports: ports().required() })),
  shield: object({
    when: oneOf('always', 'after-a-while', 'per-client').required(),
    approved: array(prefixText().required()),
  }).default(undefined),
  portal: array(forwardRow),
});

sameKeys<InferType<typeof schema>, Omit<CarrierSettings, 'kind'>>(true);
