import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { CaseError, folderFrom, unpackCase, type CaseFolder } from '@bright-ferry/core/case';

/** Evidence files above this are refused, bytes. */
const MAX_FILE = 256 * 1024 * 1024;

/**
 * Loads a case folder or its zip. @throws CaseError where it cannot be read, naming the file and the problem
 */
export function loadCase(path: string): CaseFolder {
  let isFolder: boolean;
  try {
    isFolder = statSync(path).isDirectory();
  } catch {
    throw new CaseError(path, null, 'there is no such file or folder');
  }
  if (!isFolder) return unpackCase(readFileSync(path), path);
  return folderFrom(filesBelow(path), path);
}

function filesBelow(root: string): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>();
  const walk = (below: string): void => {
    for (const entry of readdirSync(join(root, below), { withFileTypes: true })) {
      const path = below === '' ? entry.name : `${below}/${entry.name}`;
      if (entry.isDirectory() && (below !== '' || entry.name === 'evidence')) walk(path);
      else if (entry.isFile() && (path === 'case.json' || path.startsWith('evidence/'))) {
        if (statSync(join(root, path)).size > MAX_FILE)
          throw new CaseError(path, null, `is larger than ${MAX_FILE / 1024 / 1024} MiB`);
        files.set(path, readFileSync(join(root, path)));
      }
    }
  };
  walk('');
  return files;
}
