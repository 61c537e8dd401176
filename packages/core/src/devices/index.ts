export { allowListDevice } from './allowList/device.ts';
export { SUBNET_LIST } from './allowList/rules.ts';
export type { AllowListSettings, AllowRow, SubnetRow } from './allowList/settings.ts';
export { applicationRules, blockedBy, type ApplicationFirewall } from './bsdFilter/applications.ts';
export { hasEnded } from './relay/device.ts';
export { bsdFilterProgram } from './bsdFilter/program.ts';
export { SettingsError } from './build.ts';
export { carrierProgram, type CarrierDoubt } from './carrier/program.ts';
export type { CarrierSettings } from './carrier/settings.ts';
export { ownSockets, withDevice, type Device } from './device.ts';
export type { FormField, FormSpec, FormTable, Picks } from './form/spec.ts';
export { formOf, isSettingsKind, kindsFor, SETTINGS_KINDS } from './kinds.ts';
export { SCHEMAS } from './schemas.ts';
export { formProblems, type FormProblems } from './form/problems.ts';
export { formValues, isThere, noneKey, settingsFrom, type FormValues } from './form/values.ts';
export { frontEndProgram } from './frontEnd/program.ts';
export type { FrontEndAction, FrontEndListing, FrontEndRow, FrontEndZone } from './frontEnd/settings.ts';
export { compileForwardTable } from './forwardTable/compile.ts';
export type { BoxLines, ForwardManner } from './forwardTable/manner.ts';
export { rowText, type ForwardRow } from './forwardTable/row.ts';
export { forwardTableDevice, linesOf, rowsOf } from './forwardTable/device.ts';
export type { AskedMapping, ForwardRowSettings, ForwardTableSettings } from './forwardTable/settings.ts';
export { forwardsOf, type FilterForward } from './forwards.ts';
export { hostProfilesProgram } from './hostProfiles/device.ts';
export type { HostProfilesSettings, HostRow } from './hostProfiles/settings.ts';
export { compileIptables } from './iptables/compile.ts';
export type { IptablesRule, IptablesTable } from './iptables/tables.ts';
export { compileNft } from './nft/compile.ts';
export { describeRule } from './nft/describe.ts';
export { isObject, type Json, type JsonObject, type NftFamily, type NftObject } from './nft/objects.ts';
export { relayDevice } from './relay/device.ts';
export type { RelayLease, RelaySettings } from './relay/settings.ts';
export type { DeviceInterface } from './line.ts';
export type { SettingsKind, StopSettings } from './settings.ts';
export { translationLinesDevice } from './translationLines/device.ts';
export type { TranslationLine, TranslationLinesSettings } from './translationLines/settings.ts';
export { zoneFirewallDevice } from './zoneFirewall/device.ts';
export type { ZoneListing } from './zoneFirewall/context.ts';
export type { ZoneFirewallSettings, ZoneRule, ZoneTranslation } from './zoneFirewall/settings.ts';
export {
  writeDestination,
  writeEdited,
  writeFirstRule,
  powerShellWord,
  writeHostRow,
  writeMoved,
  writeOff,
  writeRule,
  writeSources,
  type Commands,
  type HostRowChange,
  type Place,
  type RuleEdit,
  type RuleWish,
  type Written,
} from './writing/index.ts';
export type { ProtectedNet } from './allowList/rules.ts';
export { sourcePrefixes } from './forwardTable/fields.ts';
export { isElsewhere, sameProgram, type HostSurroundings } from './hostProfiles/programs.ts';
