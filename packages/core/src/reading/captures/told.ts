import type { ConversationRecord, Plain } from '../../facts/index.ts';
import { type CapturedPacket } from './container.ts';
import { type Flow } from './flows.ts';

/** Seconds with nine digits behind the point. */
export const seconds = (nanoseconds: bigint): string =>
  `${nanoseconds / 1_000_000_000n}.${String(nanoseconds % 1_000_000_000n).padStart(9, '0')}`;

const tuple = (f: Flow) => ({
  protocol: f.protocol,
  source: f.source,
  sourcePort: f.sourcePort,
  destination: f.destination,
  destinationPort: f.destinationPort,
});

export function flowValue(f: Flow): ConversationRecord {
  const by = f.answeredBy ?? f;
  const value: Record<string, Plain> = {};
  if (f.packetsBack > 0)
    value['backTuples'] = [by, ...(f.behind && f.behind.packetsBack > 0 ? [f.behind] : [])].map((b) => ({
      protocol: f.protocol,
      source: b.destination,
      sourcePort: b.destinationPort,
      destination: f.source,
      destinationPort: f.sourcePort,
    }));
  if (f.protocol === 'tcp')
    Object.assign(value, {
      syns: f.syns,
      synAcks: f.synAcks,
      resetsForward: f.resetsForward,
      resetsBack: f.resetsBack,
    });
  if (f.firstSyn)
    Object.assign(value, { firstSynFrame: f.firstSyn.frame, ...timed('firstSynTime', f.firstSyn) });
  if (f.initialSequence !== null) value['initialSequence'] = f.initialSequence;
  if (f.firstPayload !== null) value['firstPayload'] = f.firstPayload;
  if (f.errors.length > 0) value['icmpErrors'] = f.errors.map((e) => ({ ...e }));
  const span = f.firstSynAck && f.lastSynAck ? clockOf(f.lastSynAck) - clockOf(f.firstSynAck) : NaN;
  if (!Number.isNaN(span)) value['synAckSpan'] = span;
  if (f.firstSynAck) Object.assign(value, timed('firstSynAckTime', f.firstSynAck));
  Object.assign(value, { firstFrame: f.first.frame, ...timed('firstTime', f.first) });
  if (f.behind)
    value['translation'] = {
      before: `${endpoint(f.destination, f.destinationPort)}/${f.protocol}`,
      after: `${endpoint(f.behind.destination, f.behind.destinationPort)}/${f.protocol}`,
    };
  if (f.per.size > 0) value['perInterface'] = Object.fromEntries(f.per);
  return {
    forwardTuple: tuple(f),
    packetsForward: f.packetsForward,
    packetsBack: f.packetsBack,
    ...value,
  };
}

const clockOf = ({ time, clock }: CapturedPacket): number =>
  time === null ? (clock ?? NaN) : Number(time) / 1e9;

const timed = (key: string, packet: CapturedPacket): Record<string, Plain> =>
  packet.time === null ? {} : { [key]: seconds(packet.time) };

export const endpoint = (host: string, port: number | undefined): string => {
  if (port === undefined) return host;
  return host.includes(':') ? `[${host}]:${port}` : `${host}:${port}`;
};

/** What became of a conversation, as far as this one place saw it. */
export function flowText(f: Flow): string {
  const who =
    `${f.protocol.toUpperCase()} ${endpoint(f.source, f.sourcePort)} → ` +
    `${endpoint(f.destination, f.destinationPort)}` +
    `${f.behind ? ` (sent on to ${endpoint(f.behind.destination, f.behind.destinationPort)})` : ''}`;
  if (f.answeredBy)
    return (
      `${who}: answered from ${endpoint(f.answeredBy.destination, f.answeredBy.destinationPort)} ` +
      'instead, which the client does not take'
    );
  if (f.packetsBack === 0) return `${who}: ${f.packetsForward} out, nothing back`;
  if (f.protocol === 'tcp' && f.resetsBack > 0 && f.synAcks === 0) return `${who}: refused with a reset`;
  return `${who}: ${f.packetsForward} out, ${f.packetsBack} back${f.synAcks > 0 ? ', answered' : ''}`;
}
