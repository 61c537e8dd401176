/** What a column of a forward table can hold. */
export const FORWARD_ROLES = [
  'name',
  'protocol',
  'outside',
  'outside-end',
  'outside-address',
  /** A port of which it is not known whether it is the outside or the inside one. */
  'some-port',
  'inside-address',
  /** Name or link address of the machine. */
  'device',
  'inside',
  'inside-end',
  'endpoint',
  'sources',
  'source-port',
  'enabled',
  'applied',
  'wan',
  'schedule',
  'lifetime',
  'number',
  /** How many packets the row has counted. */
  'counted',
  /** Not known what it means: it may narrow its rows. */
  'unknown',
  /** Nothing of use. */
  'other',
] as const;
export type ForwardRole = (typeof FORWARD_ROLES)[number];

/** What a column of a list of devices or leases can hold. */
export const DEVICE_ROLES = ['name', 'inside-address', 'mac', 'lifetime', 'other'] as const;
export type DeviceRole = (typeof DEVICE_ROLES)[number];

/** The roles of each kind of copied table. */
export const TABLE_ROLES = { forwards: FORWARD_ROLES, devices: DEVICE_ROLES } as const;
