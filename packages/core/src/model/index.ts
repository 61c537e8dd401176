export { withSettings, type SettingsProblem } from './devices.ts';
export { forwardCompiler } from './forwardCompiler.ts';
export { suggestedSettings, type Suggested } from './suggested.ts';
export { buildSite } from './site.ts';
export { secondGatewayId, wanAddress } from './outside.ts';
export { forwardRows, isInPortal, knowsForwards } from './forwards.ts';
export { listedZones, zonesAt, type ListedZones } from './zones.ts';
export { hostFirewallFrom } from './hostFirewall.ts';
export { addressesByRoutes } from './listedInterfaces.ts';
