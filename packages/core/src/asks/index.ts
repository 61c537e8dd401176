export { posixCollector, powershellCollector } from './collect.ts';
export { SETTINGS_SHELL } from './settings.ts';
