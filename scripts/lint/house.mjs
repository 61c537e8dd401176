// Lint rules that keep the house in order: arrows go down, no circles (types included), nobody reaches past
// a room's index.
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { ROOMS } from '../rooms.mjs';

const SRC = resolve(import.meta.dirname, '../../packages/core/src');
/** Tests may build sites with the room on top. */
const isTest = (file) => file.endsWith('.test.ts');

const roomOf = (file) => relative(SRC, file).split(sep)[0];
const isCore = (file) => file.startsWith(SRC + sep);
const IMPORT = /^\s*(?:import|export)\s[^;]*?from '(\.[^']+)';/gms;

let graph = null;

/** Which file imports which, types included: read once for a run of the linter. */
function imports() {
  if (graph) return graph;
  graph = new Map();
  const visit = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) visit(path);
      else if (path.endsWith('.ts') && !isTest(path)) graph.set(path, targets(path));
    }
  };
  visit(SRC);
  return graph;
}

const targets = (file) =>
  [...readFileSync(file, 'utf8').matchAll(IMPORT)].map((m) => resolve(dirname(file), m[1]));

/** The shortest way along imports from one file to another; null where there is none. */
function way(from, to) {
  const before = new Map([[from, null]]);
  const queue = [from];
  for (const file of queue) {
    if (file === to) {
      const out = [];
      for (let f = to; f !== null; f = before.get(f)) out.unshift(relative(SRC, f));
      return out;
    }
    for (const next of imports().get(file) ?? []) {
      if (before.has(next)) continue;
      before.set(next, file);
      queue.push(next);
    }
  }
  return null;
}

/** Calls `check(node, file, target)` for every relative import inside the core. */
function onImports(context, check) {
  const file = context.filename;
  if (!isCore(file)) return {};
  const seen = (node) => {
    const text = node.source?.value;
    if (typeof text === 'string' && text.startsWith('.')) check(node, file, resolve(dirname(file), text));
  };
  return { ImportDeclaration: seen, ExportNamedDeclaration: seen, ExportAllDeclaration: seen };
}

const rule = (check) => ({
  create: (context) => onImports(context, (node, file, target) => check(context, node, file, target)),
});

export const house = {
  rules: {
    'arrows-down': rule((context, node, file, target) => {
      if (isTest(file) || !isCore(target)) return;
      const [own, other] = [roomOf(file), roomOf(target)];
      if (own === other || own === 'index.ts') return;
      if (!ROOMS.includes(own) || !ROOMS.includes(other)) {
        context.report({
          node,
          message: `“${ROOMS.includes(own) ? other : own}” is no room of scripts/rooms.mjs.`,
        });
      } else if (ROOMS.indexOf(other) > ROOMS.indexOf(own)) {
        context.report({
          node,
          message: `“${own}” may only import from rooms below it (docs/architecture.md), not “${other}”.`,
        });
      }
    }),
    'by-index': rule((context, node, file, target) => {
      if (!isCore(target) || roomOf(file) === roomOf(target)) return;
      if (relative(SRC, target) === join(roomOf(target), 'index.ts')) return;
      context.report({ node, message: `Import from ${roomOf(target)}/index.ts, not past it.` });
    }),
    'no-circle': rule((context, node, file, target) => {
      if (isTest(file) || !isCore(target)) return;
      const back = way(target, file);
      if (back) context.report({ node, message: `A circle: ${[relative(SRC, file), ...back].join(' → ')}.` });
    }),
  },
};
