import { array, boolean, object, string, type InferType } from 'yup';
import { ports, oneOf, list, record, anyProtocol } from '../schema/values.ts';
import { sameKeys } from '../schema/sameKeys.ts';
import type { HostProfilesSettings, HostRow } from './settings.ts';

const row = object({
  name: string(),
  enabled: boolean(),
  direction: oneOf('in', 'out').required(),
  action: oneOf('allow', 'allow-if-authenticated', 'block').required(),
  profiles: list(),
  program: string(),
  protocol: anyProtocol(),
  localPorts: ports(),
  remotePorts: ports(),
  localAddresses: list(),
  remoteAddresses: list(),
  perhaps: string(),
});

export const schema = object({
  active: string(),
  profiles: record(
    (v): v is object =>
      typeof v === 'object' &&
      v !== null &&
      ['block', 'allow'].includes(String((v as { in?: unknown }).in)) &&
      ['block', 'allow'].includes(String((v as { out?: unknown }).out)),
    '${path} must say “in” and “out” (block or allow) for each profile',
  ).required(),
  rows: array(row).required(),
  silentWhenClosed: boolean(),
});

sameKeys<InferType<typeof schema>, Omit<HostProfilesSettings, 'kind'>>(true);
sameKeys<InferType<typeof row>, HostRow>(true);
