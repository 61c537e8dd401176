import { assignStop } from '../ledger/index.ts';
import { readText } from '../reading/index.ts';
import { caseFacts } from './case.ts';

/** Whose a piece of evidence is, at home with an outside client. */

export const path = [
  { id: 'client', role: 'client' as const },
  { id: 'carrier', role: 'carrier' as const },
  { id: 'gateway', role: 'gateway' as const },
  { id: 'server', role: 'host' as const },
];
export const more = {
  client: { address: '198.51.100.23', dials: 'radio.example.net:8214' },
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
};
export const stopOf = (text: string, known: Record<string, string> = {}) =>
  assignStop(readText(text)!, caseFacts(path, known, more));
