import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A folder with a page to serve: a server answers otherwise where it serves one, as it does when people start it. */
export function pageFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-page-'));
  writeFileSync(join(folder, 'index.html'), '<!doctype html><title>Idle Step</title>');
  return folder;
}
