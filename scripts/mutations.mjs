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

const CORE = 'packages/core/src';

await runScript(async () => {
  const { values } = parseArgs({
    options: {
      room: { type: 'string' },
      list: { type: 'boolean' },
      all: { type: 'boolean' },
      lines: { type: 'string', default: '25' },
      seed: { type: 'string', default: '1' },
    },
  });
  await prepare([]);
  const rooms = allRooms();
  if (values.list) {
    for (const room of rooms) say(room);
    return;
  }
  const wanted = values.room === undefined ? rooms : rooms.filter((r) => values.room.split(',').includes(r));
  if (wanted.length === 0) throw new Refusal(`There is no room ${values.room}; --list names them.`);
  const random = randomOf(Number(values.seed));
  const low = [];
  for (const room of wanted) {
    const files = filesOf(room);
    const places = values.all ? files : someLines(files, Number(values.lines), random);
    const statuses = await tried(room, places);
    const noticed = statuses.filter((s) => s === 'Killed' || s === 'Timeout').length;
    const of = noticed + statuses.filter((s) => s === 'Survived' || s === 'NoCoverage').length;
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

/** Rooms of the core, those of the engine and of the proof one by one, and of the page what decides and what plays. */
function allRooms() {
  const folders = (path) =>
    readdirSync(join(ROOT, path), { withFileTypes: true }).flatMap((e) => (e.isDirectory() ? e.name : []));
  return [
    ...folders(CORE).flatMap((name) =>
      name === 'engine' || name === 'proof'
        ? [`${CORE}/${name}/*`, ...folders(`${CORE}/${name}`).map((r) => `${CORE}/${name}/${r}`)]
        : `${CORE}/${name}`,
    ),
    ...['drafts', 'edits', 'live'].map((name) => `apps/web/src/${name}`),
  ];
}

/** The program of a room, without its tests, and of the page without its hooks, which only run in a browser. */
function filesOf(room) {
  const folder = room.replace(/\/\*$/, '');
  return readdirSync(join(ROOT, folder), { recursive: !room.endsWith('*') })
    .filter(
      (name) =>
        name.endsWith('.ts') && !/\.(test|test-support|worker|d)\.ts$|(^|\/)use[A-Z]\w*\.ts$/.test(name),
    )
    .map((name) => `${folder}/${name}`);
}

/** Some lines of the program of a room, so many: each is tried as a place of its own. */
function someLines(files, count, random) {
  const lines = files.flatMap((file) =>
    readFileSync(join(ROOT, file), 'utf8')
      .split('\n')
      .flatMap((text, i) => (isProgram(text.trim()) ? `${file}:${i + 1}-${i + 1}` : [])),
  );
  for (let i = lines.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [lines[i], lines[j]] = [lines[j], lines[i]];
  }
  return lines.slice(0, count);
}

/** Whether there may be something to change in a line: no comment, import, type or bracket alone. */
function isProgram(text) {
  const isNone = /^(\/[/*]|\*|import|export \*|export type|type |readonly |[\])}([{;,]*$|\| )/.test(text);
  return !isNone && /[=!<>]=|[<>] |&&|\|\||\?|return|[-+*/%] |['`]|true|false|\.\w+\(/.test(text);
}

/** Random numbers from 0 to below 1. Source: mulberry32 (from memory). */
function randomOf(seed) {
  let a = seed | 0;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * The tests that have to notice what is changed in a room: those of its part of the core or of the page, and those of
 * other parts that import it. What is changed in the engine its own tests have to notice; those of the other rooms of
 * the proof take too long to be run for each change of one.
 */
function testsFor(room) {
  const [, , , part] = room.split('/');
  if (!room.startsWith(CORE)) return [`${room}/**/*.test.ts`];
  const own = part === 'proof' ? room.replace('/*', '') : `${CORE}/${part}`;
  if (part === 'engine') return [`${own}/**/*.test.ts`];
  const isImported = new RegExp(`from '(@idle-step/core|(\\.\\.?/)+)/?${part}(/|')`);
  const others = ['packages/core/src', 'packages/demo/src'].flatMap((folder) =>
    readdirSync(join(ROOT, folder), { recursive: true })
      .filter((name) => name.endsWith('.test.ts'))
      .map((name) => `${folder}/${name}`)
      .filter(
        (file) =>
          !file.startsWith(`${CORE}/${part}/`) && isImported.test(readFileSync(join(ROOT, file), 'utf8')),
      ),
  );
  return [`${own}/**/*.test.ts`, ...others];
}

/** Makes small changes of a room, one at a time, in a copy of the project: how each of them ended. */
async function tried(room, places) {
  const folder = join(ROOT, '.data', 'mutations', room.replaceAll('/', '-').replace('*', 'top'));
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const report = join(folder, 'report.json');
  const config = join(folder, 'config.json');
  writeFileSync(
    config,
    JSON.stringify({
      testRunner: 'vitest',
      plugins: ['@stryker-mutator/vitest-runner'],
      vitest: { configFile: 'scripts/lib/mutations.config.mjs', related: false },
      mutate: places,
      ignorePatterns: ['.data', 'apps/*/dist', 'docs/screenshots'],
      ignoreStatic: true,
      coverageAnalysis: 'perTest',
      concurrency: 2,
      timeoutMS: 15_000,
      dryRunTimeoutMinutes: 20,
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
    env: { ...process.env, MUTATION_TESTS: testsFor(room).join(',') },
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  if (code !== 0 || !existsSync(report))
    throw new Refusal(`The changes of ${room} were not all tried; see above.`);
  return Object.values(JSON.parse(readFileSync(report, 'utf8')).files).flatMap(({ mutants }) =>
    mutants.map(({ status }) => status),
  );
}

function keep(room, score) {
  const all = existsSync(SCORES) ? JSON.parse(readFileSync(SCORES, 'utf8')) : {};
  const sorted = Object.entries({ ...all, [room]: score }).sort(([a], [b]) => (a < b ? -1 : 1));
  writeFileSync(SCORES, `${JSON.stringify(Object.fromEntries(sorted), null, 2)}\n`);
}
