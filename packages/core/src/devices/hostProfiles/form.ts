import { choice, text, list, picked, yesNo, FOUR, type FormSpec } from '../form/spec.ts';
import { NAMED_ROWS } from '../form/shapes.ts';

/** How this kind of device is filled in. */
export const form: FormSpec = {
  title: 'Host firewall with network profiles',
  explains: 'Rows count on their profiles only; a block beats an allow, whatever their order.',
  roles: ['host'],
  tables: [
    {
      key: 'profiles',
      shape: NAMED_ROWS,
      isNeeded: true,
      label: 'Profiles',
      columns: [
        text('name', 'profile'),
        yesNo('on', 'on'),
        choice('in', 'otherwise inward', { block: 'block', allow: 'allow' }),
        choice('out', 'otherwise outward', { block: 'block', allow: 'allow' }),
      ],
    },
    {
      key: 'rows',
      isNeeded: true,
      label: 'Rows',
      columns: [
        text('name', 'name'),
        yesNo('enabled', 'on'),
        choice('direction', 'direction', { in: 'in', out: 'out' }),
        choice('action', 'does', {
          allow: 'allow',
          'allow-if-authenticated': 'allow if authenticated',
          block: 'block',
        }),
        picked(list('profiles', 'profiles', 'empty: all'), 'profile'),
        text('program', 'program'),
        choice('protocol', 'protocol', FOUR),
        text('localPorts', 'own ports'),
        text('remotePorts', 'their ports'),
        list('localAddresses', 'own addresses'),
        list('remoteAddresses', 'their addresses', 'any, local-subnet, prefixes'),
      ],
    },
  ],
  fields: [
    picked(text('active', 'Active profile'), 'profile'),
    yesNo('silentWhenClosed', 'A closed port stays silent'),
  ],
};
