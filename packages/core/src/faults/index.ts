export {
  FAULTS,
  FAULT_IDS,
  NEAR_IS_FINE,
  type FaultId,
  type FaultPlace,
  type FaultRow,
  type FaultSign,
} from './table.ts';
