import { choice, text, number, picked, yesNo, THREE, type FormSpec } from '../form/spec.ts';

/** How this kind of device is filled in. */
export const form: FormSpec = {
  title: 'Relay with leased ports',
  explains: 'The far end of a tunnel that leases ports.',
  roles: ['relay'],
  tables: [
    {
      key: 'leases',
      isNeeded: true,
      label: 'Leased ports',
      columns: [
        choice('protocol', 'protocol', THREE),
        number('port', 'port'),
        picked(text('to', 'tunnel address'), 'machine'),
        number('toPort', 'port there'),
        text('until', 'ends at'),
      ],
    },
  ],
  fields: [
    text('address', 'Its public address'),
    text('tunnelAddress', 'Its address in the tunnel', '10.66.0.1/24'),
    yesNo('hidesClient', 'The server sees the relay instead of the client'),
    text('at', 'Looked up at'),
  ],
};
