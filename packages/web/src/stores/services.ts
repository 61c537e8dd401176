import { Cabinet } from '../storage/cabinet.ts';
import { WorkerAnalyst, type Analyst } from '../workers/analyst.ts';

/** What the stores work with besides each other: the browser's storage and the workers. */
export interface Services {
  readonly cabinet: Cabinet;
  readonly analyst: Analyst;
}

let provided: Services | null = null;

/** Puts other services in the place of the browser's, for tests. */
export function provideServices(services: Services | null): void {
  provided = services;
}

export const services = (): Services =>
  (provided ??= { cabinet: new Cabinet(), analyst: new WorkerAnalyst() });
