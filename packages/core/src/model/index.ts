export { forwardCompiler, withSettings, type SettingsProblem } from './devices.ts';
export { buildSite, forwardRows, knowsForwards, secondGatewayId, wanAddress } from './site.ts';
