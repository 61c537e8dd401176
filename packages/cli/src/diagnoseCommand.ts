import type { CaseFolder } from '@bright-ferry/core/case';
import { readCase } from '@bright-ferry/core/ledger';
import { diagnosis, stopNames, type Diagnosis } from '@bright-ferry/core/views';
import { exposureDocument, type ExposureDocument } from './exposureCommand.ts';

type Evidence = readonly { readonly file: string; readonly line: number }[];

interface FaultDocument {
  readonly id: string;
  readonly stop: string;
  readonly probability: number;
  readonly text: string;
  readonly evidence: Evidence;
}

/** `diagnose --json` in the shape of the headless contract. */
export interface DiagnosisDocument {
  readonly verdict: Diagnosis['verdict'];
  readonly faults: readonly FaultDocument[];
  readonly alsoBroken: readonly FaultDocument[];
  readonly nextChecks: readonly (Diagnosis['nextChecks'][number] & {
    readonly expectedGain: number;
  })[];
  readonly mends: readonly {
    readonly fault: string;
    readonly stop: string;
    readonly kind: string;
    readonly text: string;
    readonly values: readonly {
      readonly label: string;
      readonly now: string | null;
      readonly mended: string;
    }[];
    readonly commands: readonly string[];
    readonly undo: readonly string[];
    readonly opens: readonly ExposureDocument[];
    readonly closes: readonly ExposureDocument[];
    /** Which of several ways it belongs to, from 1; missing: there is one. */
    readonly variant?: number;
  }[];
}

/** What is wrong in a case, as far as its evidence decides it, and what is to be asked next. */
export function diagnoseCase(folder: CaseFolder): DiagnosisDocument {
  const facts = readCase(folder);
  const names = stopNames(facts);
  const found = diagnosis(facts);
  const role = (stop: string): string =>
    facts.document.path.find((s) => s.id === stop)?.settings?.kind ??
    facts.document.path.find((s) => s.id === stop)?.role ??
    'client';
  const count = found.nextChecks.length;
  return {
    verdict: found.verdict,
    faults: found.faults.map(fault),
    alsoBroken: found.alsoBroken.map(fault),
    // What is asked first is expected to settle most.
    nextChecks: found.nextChecks.map((c, i) => ({ ...c, expectedGain: (count - i) / count })),
    mends: found.mends.map((m) => ({
      fault: m.fault,
      stop: m.stop,
      kind: role(m.stop),
      text: m.words.title,
      values: m.words.values,
      commands: m.words.commands,
      undo: m.words.undo,
      opens: m.opens.map((e) => exposureDocument(e, names)),
      closes: m.closes.map((e) => exposureDocument(e, names)),
      ...(m.variant === undefined ? {} : { variant: m.variant }),
    })),
  };
}

const fault = ({ id, stop, probability, text, evidence }: Diagnosis['faults'][number]): FaultDocument => ({
  id,
  stop,
  probability,
  text,
  evidence: evidence.map(({ file, line }) => ({ file, line })),
});

/** For people: the verdict, what to change, and what to ask. */
export function diagnoseText(d: DiagnosisDocument): string {
  return [
    d.verdict.text,
    ...d.mends.map(
      (m) => `  ${(m.variant ?? 1) > 1 ? 'or ' : ''}change: ${m.text} (${m.fault}, at ${m.stop})`,
    ),
    ...d.nextChecks.map((c) => `  ask for: ${c.text}`),
    '',
  ].join('\n');
}
