import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, chmodSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepare, ROOT } from './lib/prepare.mjs';
import { freePort, sleep } from './lib/processes.mjs';
import { Refusal, runScript, say } from './lib/say.mjs';

const ROUNDS = Number(process.argv[2] ?? 30);
/** By then whatever was killed has to save again, in ms. */
const BACK_WITHIN_MS = 5000;
/** Between two rounds, so that a start is not given up for coming too often, in ms. */
const REST_MS = 9_000;

/** Kills server, database and both in turn under a stream of saves, and sees what was acknowledged and what is kept. */
await runScript(async () => {
  await prepare(['mariadbd']);
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-kills-'));
  chmodSync(folder, 0o755);
  const port = await freePort();
  const base = `http://127.0.0.1:${port}/api`;
  const demo = spawn(
    process.execPath,
    [join(ROOT, 'scripts/demo.mjs'), '--port', `${port}`, '--data', folder],
    {
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  );
  try {
    await new Promise((resolve, reject) => {
      demo.stdout.on('data', (data) => String(data).includes('Idle Step is at') && resolve());
      demo.once('exit', () => reject(new Refusal('The demo ended.')));
    });
    const [song] = await (await fetch(`${base}/songs`)).json();
    const stream = saves(base, song);
    const backs = [];
    for (let round = 0; round < ROUNDS; round++) {
      await sleep(300 + ((round * 137) % 400));
      const victims = [['server'], ['database'], ['server', 'database']][round % 3];
      const killed = victims.flatMap((v) => pidsOf(demo.pid, v));
      if (killed.length < victims.length) throw new Refusal(`Round ${round + 1}: ${victims} not found.`);
      for (const pid of killed) process.kill(pid, 'SIGKILL');
      const since = Date.now();
      // One answer may have been on its way already.
      const before = stream.acknowledged();
      while (stream.acknowledged() < before + 2 && Date.now() - since < 60_000) await sleep(20);
      backs.push(Date.now() - since);
      await stream.check(`round ${round + 1}, ${victims.join(' and ')}`);
      await sleep(REST_MS);
    }
    await stream.stop();
    const late = backs.filter((ms) => ms > BACK_WITHIN_MS).length;
    say(
      `${ROUNDS} rounds of kill -9: ${ROUNDS - late} back within ${BACK_WITHIN_MS / 1000} s, the slowest after ${Math.max(...backs)} ms; ${stream.acknowledged()} saves acknowledged, ${stream.lost()} lost`,
    );
    if (late > 0 || stream.lost() > 0) process.exitCode = 1;
  } finally {
    demo.kill('SIGTERM');
    await new Promise((resolve) => (demo.exitCode === null ? demo.once('exit', resolve) : resolve()));
    rmSync(folder, { recursive: true, force: true });
  }
});

/** Processes that the demo started: the server, or the database. */
function pidsOf(parent, which) {
  const listed = spawnSync('ps', ['-o', 'pid=,args=', '--ppid', `${parent}`], { encoding: 'utf8' }).stdout;
  const mark = which === 'server' ? 'dist/main.js' : 'mariadbd';
  return listed
    .split('\n')
    .filter((line) => line.includes(mark))
    .map((line) => Number(line.trim().split(' ')[0]));
}

/** Asks until there is an answer. */
async function untilRead(url) {
  for (;;) {
    const answer = await fetch(url, { signal: AbortSignal.timeout(3000) }).catch(() => null);
    if (answer?.status === 200) return answer.json();
    await sleep(50);
  }
}

/** Saves one song over and over; what is kept has to be what was acknowledged last, or the one after it. */
function saves(base, { doc, version }) {
  let acknowledged = 0;
  let isOver = false;
  let [known, tried] = [doc.name, doc.name];
  let lost = 0;
  const one = async () => {
    tried = `Save ${acknowledged + 1} of ${Date.now()}`;
    const answer = await fetch(`${base}/songs/${doc.id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'If-Match': `"${version}"` },
      body: JSON.stringify({ ...doc, name: tried }),
      signal: AbortSignal.timeout(3000),
    });
    const body = await answer.json();
    if (answer.status === 200) {
      version = body.version;
      known = tried;
      acknowledged++;
    } else if (answer.status === 409) {
      // The one before was stored although its answer was lost.
      version = body.current.version;
      known = body.current.doc.name;
    } else await sleep(50);
  };
  const running = (async () => {
    while (!isOver) await one().catch(() => sleep(50));
  })();
  return {
    acknowledged: () => acknowledged,
    lost: () => lost,
    async check(where) {
      const [before, mayBe] = [known, tried];
      const kept = await untilRead(`${base}/songs/${doc.id}`);
      const now = [before, mayBe, known, tried];
      if (now.includes(kept.doc.name)) return;
      lost++;
      say(`${where}: ${kept.doc.name} is kept, and ${before} was acknowledged.`);
    },
    async stop() {
      isOver = true;
      await running;
    },
  };
}
