import { choice, text, list, number, picked, FOUR, type FormSpec } from '../form/spec.ts';
import { BY_DIRECTION, LISTS_OF_ROWS, NAMED_MEMBERS } from '../form/shapes.ts';

/** How this kind of device is filled in. */
export const form: FormSpec = {
  title: 'Cloud allow list',
  explains:
    'Rows of all lists add up; who is let in is answered. A subnet list may stand in front, for ' +
    'each direction by itself.',
  roles: ['edge'],
  tables: [
    {
      key: 'lists',
      shape: LISTS_OF_ROWS,
      isNeeded: true,
      label: 'Let in',
      columns: [
        text('list', 'list'),
        text('name', 'name'),
        choice('protocol', 'protocol', FOUR),
        text('ports', 'ports'),
        picked(list('sources', 'from', 'prefixes, any, group:NAME'), 'group'),
      ],
    },
    {
      key: 'groups',
      shape: NAMED_MEMBERS,
      label: 'Groups',
      columns: [text('name', 'name'), list('members', 'members')],
    },
    {
      key: 'subnetList',
      shape: BY_DIRECTION,
      label: 'Subnet list (stateless)',
      columns: [
        choice('direction', 'direction', { in: 'in', out: 'out' }),
        number('number', 'number'),
        choice('action', 'does', { allow: 'allow', deny: 'deny' }),
        choice('protocol', 'protocol', FOUR),
        text('ports', 'ports'),
        list('peers', 'other end'),
      ],
    },
  ],
  fields: [
    text('publicAddress', 'Public address that is translated', 'or “none”; empty: the machine holds it'),
    text('insideAddress', 'The machine’s own address'),
  ],
};
