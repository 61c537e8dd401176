export { posixCollector, powershellCollector } from './collect.ts';
