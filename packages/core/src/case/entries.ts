import type { CaseFolder, EvidenceEntry } from './document.ts';

/** The evidence of a folder: what `case.json` lists, and any file below evidence/<stop>/ that it does not. */
export function evidenceEntries({ document, files }: CaseFolder): readonly EvidenceEntry[] {
  const listed = document.evidence ?? [];
  const names = new Set(listed.map((e) => e.file));
  const stops = new Set(document.path.map((s) => s.id));
  const rest = [...files.keys()]
    .filter((path) => !names.has(path))
    .sort()
    .flatMap((path) => {
      const stop = path.split('/')[1];
      return stop !== undefined && stops.has(stop) ? [{ stop, file: path }] : [];
    });
  return [...listed, ...rest];
}
