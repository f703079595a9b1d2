import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepare, ROOT } from './lib/prepare.mjs';
import { Refusal, runScript, say } from './lib/say.mjs';

/** One picture of a screen that shows sixty a second. */
const FRAME_MS = 1000 / 60;

/** Lines of the table for what was measured in the page. */
const pageRows = (f) => [
  [
    'monitor: recorded of what came',
    (f.monitorMessages / f.monitorExpected) * 100,
    '%',
    f.monitorMessages === f.monitorExpected,
    '100',
  ],
  ['monitor: frame, median', f.monitorFrameP50Ms, 'ms', null, ''],
  ['monitor: frame, 95th percentile', f.monitorFrameP95Ms, 'ms', f.monitorFrameP95Ms <= 20, '20 or less'],
  ['monitor: frame, 99th percentile', f.monitorFrameP99Ms, 'ms', null, ''],
  [
    'monitor: memory after against before',
    f.monitorHeapAfterMb / f.monitorHeapBeforeMb,
    '×',
    f.monitorHeapAfterMb / f.monitorHeapBeforeMb <= 1.1,
    '1.1 or less',
  ],
  ['table 10 × 16 × 3: opened first', f.tableOpenFirstMs, 'ms', f.tableOpenFirstMs <= 300, '300 or less'],
  ['table 10 × 16 × 3: opened, median', f.tableOpenMedianMs, 'ms', f.tableOpenMedianMs <= 300, '300 or less'],
  ['table: 160 cells filled and drawn', f.tableFill160Ms, 'ms', null, ''],
  ['table: requests for 160 cells', f.tableFillRequests, '', f.tableFillRequests === 1, '1'],
  ...['Stage', 'Floor', 'Rig', 'Routes', 'Songs', 'Sets'].flatMap((place) => [
    [`press in ${place}: one xstate transition meanwhile`, f[`press${place}PaceUs`], 'µs', null, ''],
    [`press in ${place}: median`, f[`press${place}P50Ms`], 'ms', null, ''],
    [
      `press in ${place}: 99th percentile`,
      f[`press${place}P99Ms`],
      'ms',
      f[`press${place}P99Ms`] <= f.pressEmptyP99Ms + 3,
      'within 3 of the empty page',
    ],
    [
      `press in ${place}: slowest`,
      f[`press${place}WorstMs`],
      'ms',
      f[`press${place}WorstMs`] <= FRAME_MS,
      'within a frame of 16.7',
    ],
    [
      `press in ${place}: presses while the host took nothing`,
      f[`press${place}UndisturbedPercent`],
      '%',
      null,
      '',
    ],
    [`press in ${place}: just opened, 99th percentile`, f[`press${place}OpenedP99Ms`], 'ms', null, ''],
    [`press in ${place}: just opened, slowest`, f[`press${place}OpenedWorstMs`], 'ms', null, ''],
    [`press in ${place}: 99th percentile of all`, f[`press${place}P99OfAllMs`], 'ms', null, ''],
    [`press in ${place}: slowest of all`, f[`press${place}WorstOfAllMs`], 'ms', null, ''],
    [
      `press in ${place}: frame, 95th percentile`,
      f[`press${place}FrameP95Ms`],
      'ms',
      f[`press${place}FrameP95Ms`] <= 17,
      '17 or less',
    ],
  ]),
  ['press on an empty page: 99th percentile', f.pressEmptyP99Ms, 'ms', null, ''],
  ['press on an empty page: slowest', f.pressEmptyWorstMs, 'ms', null, ''],
  ['stage: first picture, cold', f.stageFirstPictureMs, 'ms', f.stageFirstPictureMs <= 1000, '1000 or less'],
  ['glides: planned while the host took nothing', f.glideMessages, '', f.glideMissing === 0, 'all sent'],
  ['glides: of all that were planned', f.glideUndisturbedPercent, '%', null, ''],
  ['glides: off their plan, 99th percentile', f.glideP99Ms, 'ms', f.glideP99Ms <= 2, '2 or less'],
  ['glides: off their plan, most', f.glideWorstMs, 'ms', f.glideWorstMs <= 2, '2 or less'],
  ['glides: 99th percentile of all', f.glideP99OfAllMs, 'ms', null, ''],
  ['glides: of all more than 2 ms off', f.glideOffOfAll, '', null, ''],
  ['glides: press that begins one, slowest', f.glidePressWorstMs, 'ms', null, ''],
  ['show: minutes at twenty times its speed', f.showMinutes, 'min', null, ''],
  [
    'show: memory after against before',
    f.showHeapAfterMb / f.showHeapBeforeMb,
    '×',
    f.showHeapAfterMb / f.showHeapBeforeMb <= 1.1,
    '1.1 or less',
  ],
  ['show: drift of its clock', f.showDriftMs, 'ms', Math.abs(f.showDriftMs) <= 1, '1 or less'],
  ['show: ticks of its clock', f.showTicks, '', null, ''],
  ['show: stalls of more than a beat', f.showSleeps, '', null, ''],
  ['show: back after a reload', f.showBackMs, 'ms', f.showBackMs <= 2000, '2000 or less'],
  ['library: songs beside the demo', f.librarySongs, '', null, ''],
  ['library: one xstate transition meanwhile', f.libraryPaceUs, 'µs', null, ''],
  ['library: first page of the list', f.libraryListMs, 'ms', f.libraryListMs <= 300, '300 or less'],
  ['library: the same, server alone', f.libraryListServerMs, 'ms', null, ''],
  ['library: songs usable, cold', f.libraryUsableMs, 'ms', null, ''],
  [
    'library: stage against ten songs',
    f.libraryStageManyMs / f.libraryStageFewMs,
    '×',
    f.libraryStageManyMs / f.libraryStageFewMs <= 1.1,
    '1.1 or less',
  ],
  ['library: key in the search', f.librarySearchMs, 'ms', f.librarySearchMs <= 50, '50 or less'],
  ['library: song opened', f.librarySongOpenedMs, 'ms', f.librarySongOpenedMs <= 150, '150 or less'],
  ['library: line of a set of 60 moved', f.libraryReorderMs, 'ms', f.libraryReorderMs <= 100, '100 or less'],
  [
    'library: memory after 200 edits more',
    f.libraryHeapAfterMb / f.libraryHeapBeforeMb,
    '×',
    f.libraryHeapAfterMb / f.libraryHeapBeforeMb <= 1.1,
    '1.1 or less',
  ],
  ['whole rig: songs', f.wholeSongs, '', null, ''],
  ['whole rig: its file', f.wholeMb, 'MB', null, ''],
  ['whole rig: a page of its list', f.wholePageMs, 'ms', f.wholePageMs <= 100, '100 or less'],
  ...[
    ['Idle', 'nothing goes on'],
    ['Written', 'it is written'],
    ['Read', 'it is read'],
    ['Lists', 'several read its list'],
    ['Rigs', '200 read the rigs'],
    ['Deleted', 'it is deleted'],
    ['Back', 'it is brought back'],
  ].flatMap(([name, what]) => [
    [`whole rig: ${what}`, f[`whole${name}S`], 's', null, ''],
    [`  others wait meanwhile, 99 %`, f[`whole${name}OthersP99Ms`], 'ms', null, ''],
    [`  others wait meanwhile, most`, f[`whole${name}OthersAllMostMs`], 'ms', null, ''],
    [`  questions while the host took nothing`, f[`whole${name}OthersUndisturbedPercent`], '%', null, ''],
    [
      `  others wait then, most`,
      f[`whole${name}OthersMostMs`],
      'ms',
      f[`whole${name}OthersMostMs`] < 200,
      'less than 200',
    ],
  ]),
];

await runScript(async () => {
  const isWhole = !process.argv.includes('--engine');
  await prepare(isWhole ? ['mariadbd', 'chromium'] : []);
  const { runBundled } = await import('./lib/bundle.mjs');
  tell('the engine by itself');
  await runBundled('bench/main.ts');
  if (!isWhole) return;
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-bench-'));
  const out = join(folder, 'page.json');
  try {
    const isShort = process.argv.includes('--short');
    // The short form is a check among others, which has its build behind it.
    if (!isShort) {
      tell('the page is built');
      await run('npm', ['run', 'build', '--silent']);
    }
    const heard = join(folder, 'says');
    const stopTelling = tellWhatIsDone(heard);
    await run('npx', ['vitest', 'run', '--config', 'bench/vitest.config.ts'], {
      BENCH_OUT: out,
      BENCH_SAYS: heard,
      // So short that nothing is measured: only that every bench still runs to its end.
      ...(isShort
        ? {
            BENCH_WAIT_MS: '0',
            BENCH_PRESS_ROUNDS: '1',
            BENCH_MORE_ROUNDS: '0',
            BENCH_SECONDS: '1',
            BENCH_PRESSES: '5',
            BENCH_TRANSITIONS: '5',
            BENCH_SONGS: '60',
            BENCH_WHOLE_SONGS: '40',
            BENCH_SETS: '3',
            BENCH_EDITS: '3',
            BENCH_ROUNDS: '1',
            BENCH_SHOW_MIN: '1',
            BENCH_GLIDES: '1',
          }
        : {}),
    });
    stopTelling();
    const figures = {
      ...JSON.parse(readFileSync(out, 'utf8')),
      ...JSON.parse(readFileSync(`${out}.table`, 'utf8')),
      ...JSON.parse(readFileSync(`${out}.press`, 'utf8')),
      ...JSON.parse(readFileSync(`${out}.glide`, 'utf8')),
      ...JSON.parse(readFileSync(`${out}.library`, 'utf8')),
      ...JSON.parse(readFileSync(`${out}.whole`, 'utf8')),
      ...JSON.parse(readFileSync(`${out}.show`, 'utf8')),
    };
    if (process.argv.includes('--json')) say(JSON.stringify({ page: figures }));
    else
      for (const [name, value, unit, holds, aim] of pageRows(figures))
        say(
          `${name.padEnd(38)}${worded(value).padStart(10)} ${unit.padEnd(20)}${aim && `${aim}: ${holds ? 'holds' : 'missed'}`}`,
        );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

/** What is done now, beside the figures and apart from them. */
function tell(what) {
  process.stderr.write(`… ${what}\n`);
}

/** Tells each line that the benches write into a file, as it comes. @returns stops it. */
function tellWhatIsDone(path) {
  let told = 0;
  const look = () => {
    const lines = existsSync(path) ? readFileSync(path, 'utf8').split('\n').slice(0, -1) : [];
    lines.slice(told).forEach(tell);
    told = lines.length;
  };
  const timer = setInterval(look, 500);
  // Whatever becomes of the benches, this keeps nothing alive.
  timer.unref();
  return () => {
    clearInterval(timer);
    look();
  };
}

/** A figure, or a stroke where none could be taken: nothing came, or it never ended. */
function worded(value) {
  return typeof value === 'number' ? value.toPrecision(4) : '–';
}

/** Runs a program whose output is shown only when it fails. */
function run(program, args, env = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { cwd: ROOT, env: { ...process.env, ...env } });
    let said = '';
    child.stdout.on('data', (data) => (said += data));
    child.stderr.on('data', (data) => (said += data));
    child.once('error', reject);
    child.once('exit', (code) =>
      code === 0 ? resolve() : reject(new Refusal(`${program} ${args[0]} failed:\n${said}`)),
    );
  });
}
