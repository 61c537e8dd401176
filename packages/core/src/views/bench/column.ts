import type { Leg } from '../../crossing/index.ts';
import type { MendStep } from '../../mend/index.ts';
import type { StopLamp } from './types.ts';

export interface Column {
  readonly id: string;
  readonly name: string;
  readonly kind: 'client' | 'name' | 'stop' | 'program';
}

export interface State {
  readonly lamp: StopLamp;
  readonly beyond: boolean;
  readonly ends: boolean;
  readonly turned: boolean;
  readonly leg: Leg | null;
  readonly back: Leg | null;
  readonly step: MendStep;
}
