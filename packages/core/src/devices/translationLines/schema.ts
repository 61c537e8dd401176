import { array, lazy, object, string, type ObjectSchema, type InferType } from 'yup';
import { address, prefixText, port, oneOf, device, own } from '../schema/values.ts';
import { sameKeys } from '../schema/sameKeys.ts';
import type { TranslationLinesSettings } from './settings.ts';

const line = lazy((value: { type?: string } | undefined): ObjectSchema<object> => {
  const type = oneOf('port', 'address', 'many').required();
  if (value?.type === 'port')
    return object({
      type,
      protocol: oneOf('tcp', 'udp').required(),
      outside: string().required(),
      outsidePort: port().required(),
      inside: address().required(),
      insidePort: port().required(),
    });
  if (value?.type === 'address')
    return object({ type, outside: address().required(), inside: address().required() });
  return object({ type, sources: array(prefixText().required()) });
});

export const schema = object({
  interfaces: array(device).required(),
  lines: array(line as never).required(),
  outsidePrefixes: array(prefixText().required()),
  ownPorts: own,
});

sameKeys<InferType<typeof schema>, Omit<TranslationLinesSettings, 'kind'>>(true);
