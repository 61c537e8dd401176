import type { Client, CaseDocument, PathStop } from '../case/index.ts';
import type { Intake } from './line.ts';
import { addressKind, parseAddress } from '../net/index.ts';

/** Words for a machine in a data centre, for a second router, and for a server that is reached by a relay. */
export const RENTED =
  /\b(?:vps|vserver|rented|hosted|cloud|root server|dedicated server|data ?cent(?:er|re))\b/i;

export const TWO_ROUTERS = new RegExp(
  String.raw`\b(?:two|second|another|both) (?:nats?|routers?|gateways?)\b|\bdouble nat\b|` +
    String.raw`\brouter behind (?:a|the|another)\b`,
  'i',
);

export const RELAYED = /\b(?:relay|tunnel(?:led)?|port forwarding service)\b/i;

/** The way that the words suggest, from the client inward. */
export function wayOf(says: string, inside: boolean): PathStop[] {
  const client: PathStop = {
    id: 'client',
    role: 'client',
    name: inside ? 'Inside client' : 'Outside client',
  };
  const carrier: PathStop = { id: 'carrier', role: 'carrier', name: 'Carrier' };
  const gateway: PathStop = { id: 'gateway', role: 'gateway', name: 'Gateway' };
  const server: PathStop = { id: 'server', role: 'host', name: 'Server' };
  if (RENTED.test(says)) return [client, carrier, { id: 'edge', role: 'edge', name: 'Perimeter' }, server];
  if (TWO_ROUTERS.test(says))
    return [client, carrier, gateway, { id: 'inner', role: 'gateway', name: 'Second gateway' }, server];
  if (RELAYED.test(says))
    return [client, carrier, { id: 'relay', role: 'relay', name: 'Relay' }, gateway, server];
  return [client, carrier, gateway, server];
}

/** The case that a looked-over intake opens. */

export function caseFromIntake(intake: Intake, now: string): CaseDocument {
  const client: Client = {
    ...(intake.client ? { address: intake.client } : {}),
    ...(intake.others.length > 0 ? { others: intake.others } : {}),
    ...(intake.dials ? { dials: intake.dials } : {}),
    ...(intake.alsoDials.length > 0 ? { alsoDials: intake.alsoDials } : {}),
    symptom: intake.symptom ?? 'unknown',
    says: intake.says,
  };
  const inside = intake.client !== null && addressKind(parseAddress(intake.client)!).kind === 'private';
  return {
    format: 'bright-ferry-case',
    version: 1,
    title: intake.service ?? intake.dials ?? 'New case',
    created: now,
    service: { name: intake.service ?? 'the service', kind: 'other', endpoints: intake.endpoints },
    client,
    path: wayOf(intake.says, inside),
    evidence: [],
  };
}
