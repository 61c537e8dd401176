export { openingsView, type OpeningsView } from './openings.ts';
