export { exposureChange, type ExposureChange } from './difference.ts';
export { exposures, reaches, type Exposure } from './exposure.ts';
export { deadRules, type DeadRule } from './deadRules.ts';
