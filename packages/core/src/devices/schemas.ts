import type { ObjectSchema } from 'yup';
import { schema as forwardTable } from './forwardTable/schema.ts';
import { schema as zoneFirewall } from './zoneFirewall/schema.ts';
import { schema as translationLines } from './translationLines/schema.ts';
import { schema as allowList } from './allowList/schema.ts';
import { schema as hostProfiles } from './hostProfiles/schema.ts';
import { schema as carrier } from './carrier/schema.ts';
import { schema as relay } from './relay/schema.ts';
import type { SettingsKind } from './settings.ts';

/**
 * The checks of each kind's settings. Apart from `kinds.ts`: only who reads cases from outside loads them.
 */
export const SCHEMAS: Readonly<Record<SettingsKind, ObjectSchema<object>>> = {
  'forward-table': forwardTable,
  'zone-firewall': zoneFirewall,
  'translation-lines': translationLines,
  'allow-list': allowList,
  'host-profiles': hostProfiles,
  carrier,
  relay,
};
