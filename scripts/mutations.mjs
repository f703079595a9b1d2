import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { prepare, ROOT } from './lib/prepare.mjs';
import { run } from './lib/processes.mjs';
import { Refusal, runScript, say } from './lib/say.mjs';

/** Of all small changes of a room this share has to be noticed by the tests, in %. */
const NOTICED_AT_LEAST = 75;

/** Where the score of each room is kept. */
const SCORES = join(ROOT, 'docs', 'mutations.json');

await runScript(async () => {
  const { values } = parseArgs({ options: { room: { type: 'string' }, list: { type: 'boolean' } } });
  await prepare([]);
  const rooms = allRooms();
  if (values.list) {
    for (const room of rooms) say(room);
    return;
  }
  const wanted = values.room === undefined ? rooms : rooms.filter((r) => values.room.split(',').includes(r));
  if (wanted.length === 0) throw new Refusal(`There is no room ${values.room}; --list names them.`);
  const low = [];
  for (const room of wanted) {
    const { noticed, of } = await score(room);
    const percent = of === 0 ? 100 : (noticed / of) * 100;
    say(`${room}: ${noticed} of ${of} small changes noticed, ${percent.toFixed(1)} %`);
    keep(room, { noticed, of });
    if (percent < NOTICED_AT_LEAST) low.push(room);
  }
  if (low.length > 0)
    throw new Refusal(
      `Fewer than three of four were noticed in ${low.join(', ')}; the reports in .data/mutations name the rest.`,
    );
});

/** Rooms of the core, those of the engine one by one, and of the page what decides and what plays. */
function allRooms() {
  const folders = (path) =>
    readdirSync(join(ROOT, path), { withFileTypes: true }).flatMap((e) => (e.isDirectory() ? e.name : []));
  const core = 'packages/core/src';
  return [
    ...folders(core).flatMap((name) =>
      name === 'engine'
        ? [`${core}/engine/*`, ...folders(`${core}/engine`).map((r) => `${core}/engine/${r}`)]
        : `${core}/${name}`,
    ),
    ...['drafts', 'edits', 'live'].map((name) => `apps/web/src/${name}`),
  ];
}

/** Makes small changes of one room, one at a time, in a copy of the project. */
async function score(room) {
  const folder = join(ROOT, '.data', 'mutations', room.replaceAll('/', '-').replace('*', 'top'));
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const report = join(folder, 'report.json');
  const config = join(folder, 'config.json');
  const files = room.endsWith('*') ? `${room}.ts` : `${room}/**/*.ts`;
  writeFileSync(
    config,
    JSON.stringify({
      testRunner: 'vitest',
      plugins: ['@stryker-mutator/vitest-runner'],
      vitest: { configFile: 'scripts/lib/mutations.config.mjs', related: false },
      mutate: [files, '!**/*.test.ts', '!**/*.test-support.ts', '!**/*.worker.ts'],
      ignorePatterns: ['.data', 'apps/*/dist', 'docs/screenshots'],
      ignoreStatic: true,
      coverageAnalysis: 'perTest',
      concurrency: 2,
      timeoutMS: 20_000,
      reporters: ['json', 'html'],
      jsonReporter: { fileName: report },
      htmlReporter: { fileName: join(folder, 'report.html') },
      tempDirName: join('.data', 'mutations', 'copy'),
      logLevel: 'error',
      thresholds: { break: null },
    }),
  );
  const code = await run('npx', ['stryker', 'run', config], {
    cwd: ROOT,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  if (code !== 0 || !existsSync(report))
    throw new Refusal(`The changes of ${room} were not all tried; see above.`);
  const statuses = Object.values(JSON.parse(readFileSync(report, 'utf8')).files).flatMap((f) =>
    f.mutants.map((m) => m.status),
  );
  const noticed = statuses.filter((s) => s === 'Killed' || s === 'Timeout').length;
  return { noticed, of: noticed + statuses.filter((s) => s === 'Survived' || s === 'NoCoverage').length };
}

function keep(room, score) {
  const all = existsSync(SCORES) ? JSON.parse(readFileSync(SCORES, 'utf8')) : {};
  const sorted = Object.entries({ ...all, [room]: score }).sort(([a], [b]) => (a < b ? -1 : 1));
  writeFileSync(SCORES, `${JSON.stringify(Object.fromEntries(sorted), null, 2)}\n`);
}
