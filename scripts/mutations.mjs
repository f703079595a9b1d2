import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { parseArgs } from 'node:util';
import { join } from 'node:path';
import { MUTATIONS } from './lib/mutations.mjs';
import { prepare, ROOT } from './lib/prepare.mjs';
import { Refusal, runScript, say } from './lib/say.mjs';

/** Of so many small changes of the core, made one at a time in a copy, this share has to be noticed by its tests. */
const NOTICED_AT_LEAST = 0.9;

await runScript(async () => {
  await prepare([]);
  const copy = mkdtempSync(join(tmpdir(), 'idle-step-mutations-'));
  try {
    for (const part of ['packages', 'package.json', 'tsconfig.base.json'])
      cpSync(join(ROOT, part), join(copy, part), {
        recursive: true,
        filter: (from) => !from.includes('node_modules') && !from.includes('/dist'),
      });
    cpSync(join(ROOT, 'scripts/lib/mutations.config.mjs'), join(copy, 'vitest.config.mjs'));
    linkModules(copy);
    const passes = () => testsPass(copy);
    if (!passes()) throw new Refusal('The tests of the core do not pass without any change.');
    const only = wanted();
    const tried = MUTATIONS.filter((_, i) => only === null || only.has(i + 1));
    const missed = tried.filter((mutation) => {
      const i = MUTATIONS.indexOf(mutation);
      const isNoticed = notice(copy, mutation, passes);
      say(`${String(i + 1).padStart(3)} ${isNoticed ? 'noticed ' : 'MISSED  '} ${words(mutation)}`);
      return !isNoticed;
    });
    const noticed = tried.length - missed.length;
    say(`${noticed} of ${tried.length} small changes were noticed.`);
    if (noticed < tried.length * NOTICED_AT_LEAST)
      throw new Refusal('That is less than nine of ten: the tests have to notice more.');
  } finally {
    rmSync(copy, { recursive: true, force: true });
  }
});

/** Numbers of the list that are to be tried: `--only 3,17`; without it all. */
function wanted() {
  const { values } = parseArgs({ options: { only: { type: 'string' } } });
  return values.only === undefined ? null : new Set(values.only.split(',').map(Number));
}

/** The packages of the project are the copies, everything else is what is installed. */
function linkModules(copy) {
  const modules = join(copy, 'node_modules');
  mkdirSync(join(modules, '@idle-step'), { recursive: true });
  for (const name of readdirSync(join(ROOT, 'node_modules')))
    if (name !== '@idle-step') symlinkSync(join(ROOT, 'node_modules', name), join(modules, name));
  for (const name of readdirSync(join(copy, 'packages')))
    symlinkSync(join(copy, 'packages', name), join(modules, '@idle-step', name));
}

/** Makes one change, looks whether a test fails by it, and takes it back. */
function notice(copy, [file, from, to], passes) {
  const path = join(copy, 'packages/core/src', file);
  const text = readFileSync(path, 'utf8');
  if (text.split(from).length !== 2)
    throw new Refusal(
      `${file} does not have “${from.trim()}” once. The list in scripts/lib/mutations.mjs has to follow the code.`,
    );
  writeFileSync(
    path,
    text.replace(from, () => to),
  );
  try {
    return !passes();
  } finally {
    writeFileSync(path, text);
  }
}

/** A test that hangs by a change has noticed it too. */
function testsPass(copy) {
  const { status } = spawnSync(join(ROOT, 'node_modules/.bin/vitest'), ['run', '--bail', '1'], {
    cwd: copy,
    stdio: 'ignore',
    timeout: 240_000,
  });
  return status === 0;
}

function words([file, from, to]) {
  return `${file}: ${from.trim()} → ${to.trim() || 'nothing'}`;
}
