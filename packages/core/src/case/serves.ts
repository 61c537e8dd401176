/** One endpoint of a service, or a range of ports. */
interface Range {
  readonly protocol: string;
  readonly port: number;
  readonly portEnd?: number;
}

/** Whether a service has an endpoint on that port; of a range every port is one. */
export const serves = (endpoints: readonly Range[] | undefined, protocol: string, port: number): boolean =>
  (endpoints ?? []).some((e) => e.protocol === protocol && port >= e.port && port <= (e.portEnd ?? e.port));
