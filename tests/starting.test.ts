import { spawn, spawnSync } from 'node:child_process';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { createConnection } from 'mysql2/promise';
import { startBuild } from '../scripts/lib/build.mjs';
import { startMariadb } from '../scripts/lib/mariadb.mjs';
import { freePort } from '../scripts/lib/processes.mjs';

const script = (name: string) => fileURLToPath(new URL(`../scripts/${name}.mjs`, import.meta.url));
const demo = script('demo');
/** A folder that the database's user can reach too. */
function temporary(): string {
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-start-'));
  chmodSync(folder, 0o755);
  return folder;
}

/** Runs a script to its end. */
const runDemo = (...args: string[]) => runScript(demo, ...args);
const runScript = (file: string, ...args: string[]): Promise<{ code: number | null; said: string }> =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, [file, ...args], { stdio: ['ignore', 'ignore', 'pipe'] });
    let said = '';
    child.stderr.on('data', (data: Buffer) => (said += String(data)));
    child.once('exit', (code) => resolve({ code, said: said.trim() }));
  });

/** Whether a database runs over a folder. */
const runsOver = (folder: string): boolean => spawnSync('pgrep', ['-f', folder]).status === 0;

describe('a start that cannot work says so in a sentence and leaves nothing running', () => {
  it('an option that is not known', async () => {
    const { code, said } = await runDemo('--prot', '5');
    expect([code, said]).toEqual([
      1,
      "Unknown option '--prot'. Known: --fresh (start over), --port N, --data FOLDER.",
    ]);
  });

  it.each(['0', '65536', 'http'])('port %s', async (port) => {
    const { code, said } = await runDemo('--port', port);
    expect([code, said]).toEqual([
      1,
      `--port ${port} is no port; 1024 to 65535 would be right. Known: --fresh (start over), --port N, --data FOLDER.`,
    ]);
  });

  it('a data folder that is a file, or lies within one', async () => {
    const file = join(temporary(), 'notes.txt');
    writeFileSync(file, 'mine');
    expect(await runDemo('--data', file)).toEqual({
      code: 1,
      said: `${file} is a file; a folder is needed for your data. Name another one: --data FOLDER.`,
    });
    const within = join(file, 'data');
    expect(await runDemo('--data', within)).toEqual({
      code: 1,
      said: `${within} lies within a file; a folder is needed for your data. Name another one: --data FOLDER.`,
    });
    expect(readFileSync(file, 'utf8')).toBe('mine');
  });

  it('a port that is taken', async () => {
    const taken = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => taken.once('listening', resolve));
    const { port } = taken.address() as AddressInfo;
    const { code, said } = await runDemo('--port', String(port));
    taken.close();
    expect(code).toBe(1);
    expect(said).toMatch(
      new RegExp(`^(Port ${port} is taken by another program|npm run demo is running already)`),
    );
  });

  it.each([
    ['begun and never finished', (data: string) => mkdirSync(join(data, 'mysql'), { recursive: true })],
    ['empty', (data: string) => mkdirSync(data)],
  ])('a database folder that is %s is made whole', async (what, leave) => {
    const folder = temporary();
    const data = join(folder, 'database');
    leave(data);
    const database = await startMariadb(data);
    try {
      const connection = await createConnection(database.url);
      const [rows] = await connection.query('SELECT 1 AS one');
      expect(rows).toEqual([{ one: 1 }]);
      await connection.end();
      const aside = readdirSync(folder).filter((name) => name.includes('unfinished'));
      expect(aside).toHaveLength(what === 'empty' ? 0 : 1);
    } finally {
      await database.stop();
    }
    // Whole, it is found again.
    const again = await startMariadb(data);
    await again.stop();
    expect(readdirSync(folder).filter((name) => name.includes('unfinished'))).toHaveLength(
      what === 'empty' ? 0 : 1,
    );
    rmSync(folder, { recursive: true, force: true });
  });

  it('a database that does not come up', async () => {
    const folder = join(temporary(), 'data');
    // A system folder without its tables: the database finds it and cannot go on.
    mkdirSync(join(folder, 'mysql'), { recursive: true });
    writeFileSync(join(folder, 'idle-step.secret'), 'kept');
    await expect(startMariadb(folder)).rejects.toThrow(/^The database did not come up: it ended with /);
    expect(runsOver(folder)).toBe(false);
    rmSync(folder, { recursive: true, force: true });
  });
});

describe('the database of a start that was killed', () => {
  it('is stopped by the next start, which finds the data', async () => {
    const folder = join(temporary(), 'data');
    const first = await startMariadb(folder);
    expect(Number(readFileSync(join(first.data, 'idle-step.pid'), 'utf8'))).toBe(first.pid);
    const second = await startMariadb(folder);
    expect(() => process.kill(first.pid, 0)).toThrow();
    // The password is made once for a data folder, so what was kept can still be reached.
    expect(new URL(second.url).password).toBe(new URL(first.url).password);
    await second.stop();
    expect(runsOver(first.data)).toBe(false);
  });

  it('killed under way is back on its port within five seconds, with its data', async () => {
    const folder = join(temporary(), 'data');
    const database = await startMariadb(folder, { revive: true });
    const before = database.pid!;
    const reach = async () => {
      const connection = await createConnection(database.url);
      const [rows] = await connection.query('SELECT 1 AS one');
      await connection.end();
      return rows;
    };
    await reach();
    process.kill(before, 'SIGKILL');
    const since = Date.now();
    let isBack = false;
    while (!isBack && Date.now() - since < 20_000) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      isBack =
        database.pid !== before &&
        (await reach().then(
          () => true,
          () => false,
        ));
    }
    expect(isBack).toBe(true);
    await database.stop();
    expect(runsOver(database.data)).toBe(false);
  });

  it('a process that only got the same number is left alone', async () => {
    const folder = join(temporary(), 'data');
    const first = await startMariadb(folder);
    await first.stop();
    const bystander = spawn('sleep', ['30']);
    writeFileSync(join(first.data, 'idle-step.pid'), String(bystander.pid));
    const second = await startMariadb(folder);
    expect(bystander.exitCode).toBeNull();
    await second.stop();
    expect(bystander.signalCode).toBeNull();
    bystander.kill();
  });
});

describe('a build', () => {
  /** A project of two tiny parts, with what was built of them before. */
  function project(serverMain: string, plugin = ''): string {
    const root = temporary();
    for (const [file, text] of Object.entries({
      'apps/web/index.html': '<script type="module" src="./main.js"></script>',
      'apps/web/main.js': 'document.title = "new";',
      'apps/web/dist/index.html': 'old page',
      'apps/server/package.json': '{ "type": "module" }',
      'apps/server/main.js': serverMain,
      'apps/server/vite.config.js': `export default { plugins: [${plugin}], build: { ssr: 'main.js' } };`,
      'apps/server/dist/main.js': 'old server',
    })) {
      mkdirSync(dirname(join(root, file)), { recursive: true });
      writeFileSync(join(root, file), text);
    }
    return root;
  }
  const built = (root: string) =>
    ['apps/web/dist/index.html', 'apps/server/dist/main.js'].map((f) => readFileSync(join(root, f), 'utf8'));
  const leftIn = (root: string) => readdirSync(join(root, '.data'));

  it('is put in its place when it is whole', async () => {
    const root = project('console.log("new server");');
    await startBuild('ignore', root).done;
    expect(built(root)).toEqual([expect.stringContaining('<script'), expect.stringContaining('new server')]);
    expect(leftIn(root)).toEqual([]);
    rmSync(root, { recursive: true });
  });

  it('that fails leaves what was built before, page and server', async () => {
    const root = project('this is no program');
    await expect(startBuild('ignore', root).done).rejects.toThrow(
      'The build failed; see above. What was built before is still there.',
    );
    expect(built(root)).toEqual(['old page', 'old server']);
    expect(leftIn(root)).toEqual([]);
    rmSync(root, { recursive: true });
  });

  it('that is stopped ends at once, with nothing running and what was built before', async () => {
    const root = project(
      'console.log(1);',
      `{ name: 'slow', async buildStart() { (await import('node:fs')).writeFileSync('${'begun'}', ''); await new Promise((done) => setTimeout(done, 60000)); } }`,
    );
    const build = startBuild('ignore', root);
    const done = build.done.catch((error: Error) => error.message);
    const begun = join(root, 'apps/server/begun');
    for (let i = 0; i < 300 && !existsSync(begun); i++)
      await new Promise((resolve) => setTimeout(resolve, 100));
    expect(existsSync(begun)).toBe(true);
    expect(runsOver(root)).toBe(true);
    await build.stop();
    expect(await done).toBe('The build was stopped; what was built before is still there.');
    expect(runsOver(root)).toBe(false);
    expect(built(root)).toEqual(['old page', 'old server']);
    expect(leftIn(root)).toEqual([]);
    rmSync(root, { recursive: true });
  });
});

/** A disk of so many MB, where this machine lets one be made. */
function smallDisk(mb: number): string | null {
  const folder = temporary();
  const made = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${mb}M,mode=755`, 'tmpfs', folder]);
  return made.status === 0 ? folder : null;
}

describe('a disk that is full', () => {
  const disk = smallDisk(20);
  afterAll(() => {
    if (disk) spawnSync('umount', [disk]);
  });
  // To mount a small disk needs rights that not every machine gives.
  it.skipIf(!disk)('says so before anything is begun, and leaves nothing running', async () => {
    const folder = join(disk!, 'own');
    await expect(startMariadb(folder)).rejects.toThrow(
      `The disk of ${folder} is full: the database needs 200 MB of room to begin with. Make room, or name a folder on another disk: --data FOLDER.`,
    );
    expect(runsOver(folder)).toBe(false);
    expect(readdirSync(disk!)).toEqual([]);
  });
});

describe('the start for every day', () => {
  /** Starts it until its page answers. */
  async function started(folder: string, env: Record<string, string> = {}) {
    const port = await freePort();
    const child = spawn(process.execPath, [script('start'), '--port', String(port), '--data', folder], {
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let said = '';
    child.stdout.on('data', (data: Buffer) => (said += String(data)));
    const api = (path: string, init?: RequestInit) => fetch(`http://127.0.0.1:${port}/api${path}`, init);
    for (let i = 0; i < 600 && !said.includes('Idle Step is at'); i++)
      await new Promise((resolve) => setTimeout(resolve, 100));
    const stop = async () => {
      const gone = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await gone;
    };
    return { said: () => said, api, stop };
  }
  const rig = {
    id: 'b2f4ad0e-6d0a-4b1e-9a55-5b5d7c9a0a11',
    name: 'Mine',
    middleC: 3,
    devices: [],
    cables: [],
    boards: [],
    routing: { lines: [], routes: [], othersTo: [] },
  };
  const post = { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(rig) };

  it('has nothing of the demo, and keeps what was made in its own folder', async () => {
    const folder = join(temporary(), 'own');
    const first = await started(folder);
    expect(first.said()).toContain(`What you make is kept in ${folder}`);
    expect(await (await first.api('/rigs')).json()).toEqual([]);
    expect((await first.api('/rigs', post)).status).toBe(201);
    await first.stop();
    expect(runsOver(folder)).toBe(false);
    const second = await started(folder);
    expect(await (await second.api('/rigs')).json()).toMatchObject([{ doc: { name: 'Mine' } }]);
    await second.stop();
  });

  it('uses a database that is there already, and leaves it running', async () => {
    const folder = join(temporary(), 'own');
    const database = await startMariadb(join(temporary(), 'theirs'));
    const app = await started(folder, { DATABASE_URL: database.url });
    expect(app.said()).toContain('kept in the database of DATABASE_URL');
    expect((await app.api('/rigs', post)).status).toBe(201);
    await app.stop();
    const connection = await createConnection(database.url);
    const [rows] = await connection.query('SELECT name FROM rig');
    await connection.end();
    expect(rows).toEqual([{ name: 'Mine' }]);
    await database.stop();
  });

  it('never throws away what was made', async () => {
    const { code, said } = await runScript(script('start'), '--fresh');
    expect([code, said]).toEqual([1, "Unknown option '--fresh'. Known: --port N, --data FOLDER."]);
  });
});
