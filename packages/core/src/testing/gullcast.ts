// The radio of the demo behind its router, as the tests of the bench have it: each listing a string, together
// a case that works.
import { strToU8 } from 'fflate';
import type { CaseDocument } from '../case/index.ts';
import { readCase } from '../ledger/index.ts';
import { benchView } from '../views/index.ts';

export const DOCUMENT: CaseDocument = {
  format: 'bright-ferry-case',
  version: 1,
  title: 'Gullcast',
  service: {
    name: 'Gullcast',
    kind: 'media',
    endpoints: [{ protocol: 'tcp', port: 8214 }],
    audience: 'anyone',
  },
  client: {
    address: '198.51.100.23',
    dials: 'radio.example.net:8214',
    symptom: 'lost',
    says: 'nothing happens',
  },
  path: [
    { id: 'client', role: 'client', name: 'Outside client' },
    { id: 'carrier', role: 'carrier', name: 'Carrier' },
    { id: 'gateway', role: 'gateway', name: 'Gateway' },
    { id: 'server', role: 'host', name: 'Server' },
  ],
};
export const NAME = 'radio.example.net has address 203.0.113.50\n';
export const STATUS = 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n';
export const FORWARDS = 'tcp 8214 192.168.50.20 8214\nudp 28410 192.168.50.20 28410\n';
export const ADDRESSES =
  '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
  '    link/ether 02:48:4e:00:00:20 brd ff:ff:ff:ff:ff:ff\n' +
  '    inet 192.168.50.20/24 scope global eno1\n';
export const ROUTES = 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n';
export const SOCKETS = 'tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:* users:(("gullcast",pid=7,fd=3))\n';
export const RULES = '{"nftables": [{"metainfo": {"version": "1.0.6"}}]}';
export const WHOLE = {
  'client/name': NAME,
  'gateway/status': STATUS,
  'gateway/forwards': FORWARDS,
  'server/addresses': ADDRESSES,
  'server/routes': ROUTES,
  'server/sockets': SOCKETS,
  'server/rules': RULES,
};

export function facts(files: Readonly<Record<string, string>>, document: CaseDocument = DOCUMENT) {
  const said = document.evidence ?? [];
  const others = Object.keys(files).filter((path) => !said.some((e) => e.file === `evidence/${path}.txt`));
  const evidence = [
    ...said,
    ...others.map((path) => ({ stop: path.split('/')[0]!, file: `evidence/${path}.txt`, whole: true })),
  ];
  return readCase({
    document: { ...document, evidence },
    files: new Map(Object.entries(files).map(([path, text]) => [`evidence/${path}.txt`, strToU8(text)])),
  });
}
export const bench = (files: Readonly<Record<string, string>>, document?: CaseDocument) =>
  benchView(facts(files, document));
export const lamps = (files: Readonly<Record<string, string>>): string =>
  bench(files)
    .crossing.stops.map((s) => s.word)
    .join(' | ');
