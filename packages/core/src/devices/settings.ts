import type { AllowListSettings } from './allowList/settings.ts';
import type { CarrierSettings } from './carrier/settings.ts';
import type { ForwardTableSettings } from './forwardTable/settings.ts';
import type { HostProfilesSettings } from './hostProfiles/settings.ts';
import type { RelaySettings } from './relay/settings.ts';
import type { TranslationLinesSettings } from './translationLines/settings.ts';
import type { ZoneFirewallSettings } from './zoneFirewall/settings.ts';

/**
 * What a technician knows of a device that prints no rule set, in the device's own kind of words. Stands in
 * `case.json` under its stop as `settings`; docs/formats/settings.md describes every key.
 */
export type StopSettings =
  | ForwardTableSettings
  | ZoneFirewallSettings
  | TranslationLinesSettings
  | AllowListSettings
  | HostProfilesSettings
  | CarrierSettings
  | RelaySettings;

export type SettingsKind = StopSettings['kind'];
