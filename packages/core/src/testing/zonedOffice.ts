import { CARRIER, CLIENT, GATEWAY, HOST, SERVER, type Given } from './mends.ts';

export type Row = Record<string, unknown>;

const INTERFACES = [
  { name: 'wan0', side: 'outside', zone: 'outside', addresses: ['203.0.113.50/29'] },
  { name: 'lan0', side: 'inside', zone: 'inside', addresses: ['192.168.50.1/24'] },
  { name: 'lan1', side: 'inside', zone: 'guests', addresses: ['192.168.60.1/24'] },
];
export const FORWARD = {
  type: 'port-forward',
  outside: '203.0.113.50',
  protocol: 'tcp',
  ports: 8214,
  to: '192.168.50.20',
};
export const MAPPING = {
  type: 'one-to-one',
  name: 'cast',
  outside: '203.0.113.52',
  inside: '192.168.50.20',
  twoWay: false,
};
const RULE = {
  name: 'cast',
  action: 'allow',
  fromZone: 'outside',
  toZone: 'inside',
  destinations: ['192.168.50.20'],
  services: ['tcp/8214'],
};
export const rule = (more: Row = {}): Row => ({ ...RULE, ...more });

interface Zones {
  readonly rules: readonly Row[];
  readonly translations?: readonly Row[];
  readonly more?: Row;
  readonly to?: string;
  readonly given?: Partial<Given>;
}
/** An office behind a firewall with zones that somebody filled in: rules see what is translated. */
export const office = ({ rules, translations = [FORWARD], more = {}, to, given }: Zones): Given => ({
  path: [
    CLIENT,
    CARRIER,
    {
      ...GATEWAY,
      settings: {
        kind: 'zone-firewall',
        interfaces: INTERFACES,
        extraAddresses: ['203.0.113.52'],
        rules,
        translations,
        otherwise: 'drop',
        destinationSeen: 'after',
        zoneSeen: 'after',
        ownPorts: [],
        ...more,
      },
    },
    HOST,
  ],
  files: SERVER,
  ...(to === undefined ? {} : { to }),
  ...given,
});
export const WHOLE = { to: '203.0.113.52:8214/tcp', translations: [MAPPING] };
