import { strFromU8, strToU8, unzipSync, zipSync, type Unzipped } from 'fflate';
import { CaseError, type CaseFolder } from './document.ts';
import { parseCaseDocument } from './schema.ts';
import { isDamaged, zipDirectory } from './zipDirectory.ts';

/** Unpacked sizes above this are refused: more text than the readers can hold at once. Bytes. */
export const MAX_UNPACKED = 128 * 1024 * 1024;
/**
 * Time stamp of every entry, so that the same case always gives the same bytes. The zip format begins at
 * 1980.
 */
const FIXED_TIME = '1980-01-01T00:00:00';

/** Packs a case folder; the same case always gives the same file. */
export function packCase({ document, files }: CaseFolder): Uint8Array {
  const entries: Record<string, Uint8Array> = {
    'case.json': strToU8(`${JSON.stringify(document, null, 2)}\n`),
  };
  for (const path of [...files.keys()].sort()) entries[path] = files.get(path)!;
  return zipSync(entries, { level: 6, mtime: FIXED_TIME });
}

/**
 * Unpacks a case. Nothing is taken over unless all of it is in order.
 * @throws CaseError where the file is damaged, foreign, or too large
 */
export function unpackCase(bytes: Uint8Array, file: string): CaseFolder {
  let total = 0;
  let entries: Unzipped;
  try {
    entries = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        total += originalSize;
        if (total > MAX_UNPACKED)
          throw new CaseError(file, null, `unpacks to more than ${MAX_UNPACKED / 1024 / 1024} MiB`);
        return true;
      },
    });
  } catch (error) {
    if (error instanceof CaseError) throw error;
    throw new CaseError(file, null, 'not a zip file, or a damaged one; export the case again');
  }
  checkEntries(bytes, entries, file);
  return folderFrom(new Map(Object.entries(entries).filter(([path]) => !path.endsWith('/'))), file);
}

/** Evidence that was damaged on its way would say something else: nothing of such a file is taken in. */
function checkEntries(bytes: Uint8Array, entries: Unzipped, file: string): void {
  const seen = new Set<string>();
  for (const entry of zipDirectory(bytes) ?? []) {
    if (seen.has(entry.name)) throw new CaseError(file, null, `holds ${entry.name} twice; export it again`);
    seen.add(entry.name);
    if (entry.name.includes('\\'))
      throw new CaseError(file, null, `the name ${entry.name} has a backslash: zip names have “/” only`);
    const unpacked = entries[entry.name];
    if (!unpacked || isDamaged(entry, unpacked))
      throw new CaseError(
        file,
        null,
        `${entry.name} is damaged in it; export the case again, or send it anew`,
      );
  }
}

/** A case from the files of its folder. One enclosing directory is stepped into. @throws CaseError */
export function folderFrom(entries: ReadonlyMap<string, Uint8Array>, file: string): CaseFolder {
  const main = [...entries.keys()]
    .filter((path) => path === 'case.json' || /^[^/]+\/case\.json$/.test(path))
    .sort((a, b) => a.length - b.length)[0];
  if (main === undefined) throw new CaseError(file, null, 'holds no case.json: this is not a case');
  const root = main.slice(0, -'case.json'.length);
  const document = parseCaseDocument(strFromU8(entries.get(main)!), main);
  const files = new Map<string, Uint8Array>();
  for (const [path, bytes] of entries) {
    const local = path.startsWith(root) ? path.slice(root.length) : null;
    if (local === null || !local.startsWith('evidence/')) continue;
    if (local.split('/').includes('..'))
      throw new CaseError(file, null, `the entry ${path} leaves the case folder`);
    files.set(local, bytes);
  }
  const missing = document.evidence?.find((e) => !files.has(e.file));
  if (missing) throw new CaseError(file, null, `${missing.file} is named in case.json and is not there`);
  return { document, files };
}
