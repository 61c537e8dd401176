export { FAULTS, FAULT_IDS, type FaultId, type FaultPlace, type FaultRow } from './table.ts';
