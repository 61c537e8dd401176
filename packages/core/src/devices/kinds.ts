import type { Role } from '../site/index.ts';
import { form as forwardTable } from './forwardTable/form.ts';
import { form as zoneFirewall } from './zoneFirewall/form.ts';
import { form as translationLines } from './translationLines/form.ts';
import { form as allowList } from './allowList/form.ts';
import { form as hostProfiles } from './hostProfiles/form.ts';
import { form as carrier } from './carrier/form.ts';
import { form as relay } from './relay/form.ts';
import type { FormSpec } from './form/spec.ts';
import type { SettingsKind } from './settings.ts';

/** How each kind of device is filled in: one row a kind, and the compiler asks for each. */
const FORMS = {
  'forward-table': forwardTable,
  'zone-firewall': zoneFirewall,
  'translation-lines': translationLines,
  'allow-list': allowList,
  'host-profiles': hostProfiles,
  carrier,
  relay,
} satisfies Record<SettingsKind, FormSpec>;

export const SETTINGS_KINDS = Object.keys(FORMS) as readonly SettingsKind[];

export const isSettingsKind = (kind: unknown): kind is SettingsKind =>
  typeof kind === 'string' && Object.hasOwn(FORMS, kind);

export const formOf = (kind: SettingsKind): FormSpec => FORMS[kind];

/** The kinds that a device of a role can be. */
export const kindsFor = (role: Role): SettingsKind[] =>
  SETTINGS_KINDS.filter((kind) => formOf(kind).roles.includes(role));
