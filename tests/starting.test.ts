import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { createConnection } from 'mysql2/promise';
import { startMariadb } from '../scripts/lib/mariadb.mjs';

const demo = fileURLToPath(new URL('../scripts/demo.mjs', import.meta.url));
/** A folder that the database's user can reach too. */
function temporary(): string {
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-start-'));
  chmodSync(folder, 0o755);
  return folder;
}

/** Runs the demo script to its end. */
const runDemo = (...args: string[]): Promise<{ code: number | null; said: string }> =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, [demo, ...args], { stdio: ['ignore', 'ignore', 'pipe'] });
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

  it('a database that does not come up', async () => {
    const folder = join(temporary(), 'data');
    // A system folder without its tables: the database finds it and cannot go on.
    mkdirSync(join(folder, 'mysql'), { recursive: true });
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
