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
  const places = wanted.flatMap((room) =>
    values.all ? filesOf(room) : someLines(filesOf(room), Number(values.lines), random),
  );
  const statuses = await tried(places);
  const low = [];
  for (const room of wanted) {
    const own = statuses.filter(({ file }) => roomOf(file, rooms) === room).map(({ status }) => status);
    const noticed = own.filter((s) => s === 'Killed' || s === 'Timeout').length;
    const of = noticed + own.filter((s) => s === 'Survived' || s === 'NoCoverage').length;
    const percent = of === 0 ? 100 : (noticed / of) * 100;
    say(`${room}: ${noticed} of ${of} small changes noticed, ${percent.toFixed(1)} %`);
    keep(room, { noticed, of });
    if (percent < NOTICED_AT_LEAST) low.push(room);
  }
  if (low.length > 0)
    throw new Refusal(
      `Fewer than three of four were noticed in ${low.join(', ')}; the report in .data/mutations names the rest.`,
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

/** The room that a file lies in. */
const roomOf = (file, rooms) =>
  rooms.find((r) => !r.endsWith('*') && file.startsWith(`${r}/`)) ??
  rooms.find((r) => r.endsWith('*') && file.startsWith(r.slice(0, -1)));

/** The program of a room, without its tests. */
const filesOf = (room) =>
  readdirSync(join(ROOT, room.replace(/\/\*$/, '')), { recursive: !room.endsWith('*') })
    .filter((name) => name.endsWith('.ts') && !/\.(test|test-support|worker|d)\.ts$/.test(name))
    .map((name) => `${room.replace(/\/\*$/, '')}/${name}`);

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
const isProgram = (text) =>
  !/^(\/[/*]|\*|import|export \*|export type|type |readonly |[\])}([{;,]*$|\| )/.test(text) &&
  /[=!<>]=|[<>] |&&|\|\||\?|return|[-+*/%] |['`]|true|false|\.\w+\(/.test(text);

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

/** Makes small changes, one at a time, in a copy of the project: how each of them ended. */
async function tried(places) {
  const folder = join(ROOT, '.data', 'mutations', 'last');
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
      timeoutMS: 20_000,
      reporters: ['json', 'html', 'progress-append-only'],
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
  if (code !== 0 || !existsSync(report)) throw new Refusal('The changes were not all tried; see above.');
  return Object.entries(JSON.parse(readFileSync(report, 'utf8')).files).flatMap(([file, { mutants }]) =>
    mutants.map(({ status }) => ({ file, status })),
  );
}

function keep(room, score) {
  const all = existsSync(SCORES) ? JSON.parse(readFileSync(SCORES, 'utf8')) : {};
  const sorted = Object.entries({ ...all, [room]: score }).sort(([a], [b]) => (a < b ? -1 : 1));
  writeFileSync(SCORES, `${JSON.stringify(Object.fromEntries(sorted), null, 2)}\n`);
}
