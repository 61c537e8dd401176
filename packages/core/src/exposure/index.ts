export { deadRules, type DeadRule, type DeadRules } from './deadRules.ts';
export { exposureChange, type ExposureChange } from './difference.ts';
export { exposures, type Exposure } from './exposure.ts';
