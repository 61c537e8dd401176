import type { Rule, Subject } from '../rules/index.ts';
import { headerOf, laneOf, subjectOf } from './flight.ts';
import type { Flight, Leg } from './types.ts';

/** One packet at one machine. */
export interface Moving {
  readonly flight: Flight;
  readonly subject: Subject;
  readonly leg: Leg;
  /** The rule that translated it at the hook that it runs through. */
  translatedBy: Rule | null;
}

/** What travels, at a stop, with nothing told of it yet. */
export function movingAt(stop: string, flight: Flight, device: string | null): Moving {
  const header = headerOf(flight);
  const leg: Leg = {
    stop,
    lane: laneOf(flight),
    form: flight.form,
    in: device,
    out: null,
    before: header,
    after: header,
    events: [],
  };
  return { flight, subject: subjectOf(flight, device), leg, translatedBy: null };
}
