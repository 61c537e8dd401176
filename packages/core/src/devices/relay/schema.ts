import { array, boolean, object, type InferType } from 'yup';
import { address, withLength, port, time, oneOf } from '../schema/values.ts';
import { sameKeys } from '../schema/sameKeys.ts';
import type { RelayLease, RelaySettings } from './settings.ts';

const lease = object({
  protocol: oneOf('tcp', 'udp', 'both').required(),
  port: port().required(),
  to: address().required(),
  toPort: port(),
  until: time(),
});

export const schema = object({
  address: address().required(),
  tunnelAddress: withLength().required(),
  leases: array(lease).required(),
  hidesClient: boolean(),
  at: time(),
});

sameKeys<InferType<typeof schema>, Omit<RelaySettings, 'kind'>>(true);
sameKeys<InferType<typeof lease>, RelayLease>(true);
