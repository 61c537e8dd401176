import type { CaseFolder } from '@bright-ferry/core/case';
import { buildSite } from '@bright-ferry/core/model';
import { readCase } from '@bright-ferry/core/ledger';
import { exposures, type Exposure } from '@bright-ferry/core/exposure';
import { formatAddress, formatPorts } from '@bright-ferry/core/net';
import { stopNames } from '@bright-ferry/core/views';
import { listenerText, type StopNames } from '@bright-ferry/core/words';
import { refuseWrongSettings } from './settings.ts';

/** One row of `exposure --json`. */
export interface ExposureDocument {
  /** Stop, program and the address that it listens on. */
  readonly listener: string;
  readonly stop: string;
  readonly program: string | null;
  readonly protocol: 'tcp' | 'udp';
  readonly outsideAddresses: readonly string[];
  readonly outsidePorts: readonly (readonly [number, number])[];
  readonly sources: readonly string[];
  /** False: something that is not known has to be so. */
  readonly sure: boolean;
  readonly why: readonly {
    readonly stop: string;
    readonly text: string;
    readonly evidence: readonly { readonly file: string; readonly line: number }[];
  }[];
}

/**
 * Everything that an outside sender can reach in a case. @throws CaseError for settings that cannot be used
 */
export function exposureOf(folder: CaseFolder): ExposureDocument[] {
  const facts = readCase(folder);
  const site = buildSite(facts);
  refuseWrongSettings(site);
  const names = stopNames(facts);
  return exposures(site).map((e) => exposureDocument(e, names));
}

/** A row of exposure in the shape of the headless contract. */
export function exposureDocument(e: Exposure, names: StopNames): ExposureDocument {
  return {
    listener: listenerOf(e, names),
    stop: e.stop,
    program: e.program,
    protocol: e.transport,
    outsideAddresses: e.outsideAddresses,
    outsidePorts: e.outsidePorts.map((p) => [p.first, p.last] as const),
    sources: e.sources,
    sure: !e.maybe,
    why: e.why.map((w) => ({
      stop: w.stop,
      text: w.text,
      evidence: w.source ? [{ file: w.source.file, line: w.source.line }] : [],
    })),
  };
}

const listenerOf = (e: Exposure, names: StopNames): string =>
  e.socket
    ? `${e.stop} ${e.program ?? 'a program'} ` +
      `${e.socket.address ? formatAddress(e.socket.address) : '*'}:${e.socket.port}`
    : `${e.stop}, ${listenerText(e, names)}`;

/** One line a row, for people. */
export function exposureText(rows: readonly ExposureDocument[]): string {
  if (rows.length === 0) return 'Nothing on this site can be reached from outside, as far as it is known.\n';
  return rows
    .map(
      (r) =>
        `${r.protocol} ${formatPorts(r.outsidePorts.map(([first, last]) => ({ first, last })))} at ` +
        `${r.outsideAddresses.join(', ')} reaches ${r.listener}, from ` +
        `${r.sources.join(', ')}${r.sure ? '' : ' (not certain)'}\n`,
    )
    .join('');
}
