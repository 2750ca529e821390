import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import ts from 'typescript';

// Files that import each other in a circle, and folders of core/ that do; imports of types count too.

const root = join(import.meta.dirname, '..');
const FOLDERS = ['core', 'compute', 'studio', 'server', 'app', 'cli', 'render-worker', 'demo'];

function sources(folder) {
  return readdirSync(join(root, folder), { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return sources(path);
    return /\.tsx?$/.test(path) && !/\.test\.tsx?$|generated|kernels\/source/.test(path) ? [path] : [];
  });
}

function targetOf(file, specifier) {
  if (!specifier.startsWith('@/') && !specifier.startsWith('.')) return undefined;
  const base = specifier.startsWith('@/') ? join(root, specifier.slice(2)) : resolve(root, dirname(file), specifier);
  const found = [base, `${base}.ts`, `${base}.tsx`, join(base, 'index.ts')].find(
    (path) => existsSync(path) && statSync(path).isFile(),
  );
  return found && relative(root, found);
}

/** Strongly connected parts of more than one node (Tarjan 1972). */
function circlesOf(graph) {
  const found = [];
  const order = new Map();
  const low = new Map();
  const stack = [];
  const visit = (node) => {
    order.set(node, order.size);
    low.set(node, order.get(node));
    stack.push(node);
    for (const next of graph.get(node) ?? []) {
      if (!order.has(next)) visit(next);
      if (stack.includes(next)) low.set(node, Math.min(low.get(node), low.get(next)));
    }
    if (low.get(node) !== order.get(node)) return;
    const part = stack.splice(stack.indexOf(node));
    if (part.length > 1) found.push(part);
  };
  for (const node of graph.keys()) if (!order.has(node)) visit(node);
  return found;
}

const short = (names) => `${names.slice(0, 6).join(', ')}${names.length > 6 ? ` and ${names.length - 6} more` : ''}`;

let known;
function circles() {
  if (known) return known;
  const files = new Map();
  const rooms = new Map();
  for (const file of FOLDERS.filter((folder) => existsSync(join(root, folder))).flatMap(sources)) {
    const { importedFiles } = ts.preProcessFile(readFileSync(join(root, file), 'utf8'), true, true);
    const targets = importedFiles
      .map(({ fileName }) => targetOf(file, fileName))
      .filter((target) => target !== undefined);
    files.set(file, targets);
    const roomOf = (path) => /^core\/([^/]+)\//.exec(path)?.[1];
    const room = roomOf(file);
    if (!room) continue;
    const others = targets.map(roomOf).filter((other) => other && other !== room);
    rooms.set(room, [...new Set([...(rooms.get(room) ?? []), ...others])]);
  }
  known = { files: circlesOf(files), rooms: circlesOf(rooms) };
  return known;
}

/** Reports a file that stands in a circle of imports, or in a folder of core/ that does. */
export const noCircles = {
  meta: { type: 'problem', schema: [] },
  create(context) {
    return {
      Program(node) {
        const file = relative(root, context.filename);
        const { files, rooms } = circles();
        const circle = files.find((part) => part.includes(file));
        if (circle) context.report({ node, message: `Imports go in a circle: ${short(circle)}.` });
        const room = /^core\/([^/]+)\//.exec(file)?.[1];
        const round = rooms.find((part) => part.includes(room));
        if (round)
          context.report({ node, message: `Folders of core/ import each other in a circle: ${round.join(', ')}.` });
      },
    };
  },
};
