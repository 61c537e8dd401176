import { lazy, object, string, type ObjectSchema } from 'yup';
import { isSettingsKind, SCHEMAS, SETTINGS_KINDS } from '../devices/index.ts';

const unknownKind = object({
  kind: string()
    .oneOf(SETTINGS_KINDS, `\${path} must be one of ${SETTINGS_KINDS.join(', ')}`)
    .required(),
});

/** The shape of any settings; an unknown kind names the known ones. */
export const settingsSchema = lazy((value: unknown): ObjectSchema<object> => {
  if (value === undefined) return object().default(undefined) as unknown as ObjectSchema<object>;
  const kind = typeof value === 'object' && value !== null ? (value as { kind?: unknown }).kind : undefined;
  if (!isSettingsKind(kind)) return unknownKind;
  return SCHEMAS[kind].concat(object({ kind: string().required() })) as ObjectSchema<object>;
});
