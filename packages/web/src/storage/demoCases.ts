import type { CaseDocument, CaseFolder } from '@bright-ferry/core/case';

const texts = import.meta.glob<string>('../../demo/**/*', { query: '?raw', import: 'default', eager: true });

/** The cases that ship with the application, newest first. */
export function demoCases(): { name: string; folder: CaseFolder }[] {
  const byName = new Map<string, Map<string, string>>();
  for (const [path, text] of Object.entries(texts)) {
    const match = /\/demo\/([^/]+)\/(.+)$/.exec(path);
    if (!match) continue;
    const files = byName.get(match[1]!) ?? new Map<string, string>();
    byName.set(match[1]!, files.set(match[2]!, text));
  }
  const encoder = new TextEncoder();
  return [...byName.entries()]
    .map(([name, files]) => {
      // They ship with the application and are checked by its tests.
      const document = JSON.parse(files.get('case.json') ?? '{}') as CaseDocument;
      return {
        name,
        folder: {
          document,
          files: new Map(
            [...files].filter(([p]) => p !== 'case.json').map(([p, text]) => [p, encoder.encode(text)]),
          ),
        },
      };
    })
    .sort((a, b) => String(b.folder.document['created']).localeCompare(String(a.folder.document['created'])));
}
