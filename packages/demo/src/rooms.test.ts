import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const root = fileURLToPath(new URL('../../..', import.meta.url));

/** Folders with files of a program below a path, from there on. */
function roomsBelow(path: string): string[] {
  const entries = readdirSync(join(root, path), { withFileTypes: true, recursive: true });
  const holding = entries.filter((e) => e.isFile() && /\.(tsx?|scss)$/.test(e.name));
  return [...new Set(holding.map((e) => e.parentPath.slice(join(root, path).length + 1)))].filter(Boolean);
}

it('the map of rooms names every room of the program and no other', () => {
  const sections = readFileSync(join(root, 'docs/rooms.md'), 'utf8').split('\n## ').slice(1);
  const named = (title: string) =>
    [...sections.find((s) => s.startsWith(title))!.matchAll(/^- `([^`]+)`: \S/gm)].map((m) => m[1]!).sort();
  for (const path of ['packages/core/src', 'apps/server/src', 'apps/web/src'])
    expect([path, ...named(path)]).toEqual([path, ...roomsBelow(path).sort()]);
  expect(named('packages/contract/src')).toEqual([
    'packages/contract/src',
    'packages/contract/src/rig',
    'packages/demo/src',
  ]);
});
