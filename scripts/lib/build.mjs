import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './prepare.mjs';
import { isAlive, sleep } from './processes.mjs';
import { Refusal } from './say.mjs';

/** What is built, and the file by which one sees that it is there. */
const APPS = [
  { name: 'web', shown: 'apps/web/dist/index.html' },
  { name: 'server', shown: 'apps/server/dist/main.js' },
];
/** Builds are made here, on the same disk as their place. */
const MAKING = '.data';
const PREFIX = 'building-';

/** Whether what was built is as new as its sources. */
export function isBuilt() {
  const built = Math.min(...APPS.map(({ shown }) => timeOf(join(ROOT, shown))));
  return built > newest(['apps', 'packages', 'package-lock.json'].map((p) => join(ROOT, p)));
}

/**
 * Builds the page and the server, each beside its place; they are put there when both are whole.
 * @param stdio how the output of the builder is shown. @param root the folder of the project.
 * @returns `done`, which throws a `Refusal` where it failed, and `stop()`, which ends it and leaves nothing behind.
 */
export function startBuild(stdio, root = ROOT) {
  const making = join(root, MAKING);
  dropLeftovers(making);
  const folder = join(making, `${PREFIX}${process.pid}`);
  let child = null;
  let isStopped = false;
  const build = async () => {
    for (const { name } of APPS) {
      const code = await new Promise((resolve, reject) => {
        if (isStopped) return resolve(1);
        child = spawn(
          process.execPath,
          [
            join(ROOT, 'node_modules', 'vite', 'bin', 'vite.js'),
            'build',
            '--outDir',
            join(folder, name),
            '--emptyOutDir',
            '--logLevel',
            'error',
          ],
          {
            cwd: join(root, 'apps', name),
            env: { ...process.env, NODE_ENV: 'production' },
            stdio,
            // Not in the terminal's group: it is ended here, and waited for.
            detached: true,
          },
        );
        child.once('error', reject);
        child.once('exit', (c) => resolve(c ?? 1));
      });
      if (isStopped) throw new Refusal('The build was stopped; what was built before is still there.');
      if (code !== 0) throw new Refusal('The build failed; see above. What was built before is still there.');
    }
    for (const { name } of APPS) putInPlace(join(folder, name), join(root, 'apps', name, 'dist'), folder);
  };
  mkdirSync(folder, { recursive: true });
  const done = build().finally(() => rmSync(folder, { recursive: true, force: true }));
  return {
    done,
    async stop() {
      isStopped = true;
      for (const signal of ['SIGTERM', 'SIGKILL']) {
        if (!child || child.exitCode !== null || child.signalCode !== null) break;
        try {
          process.kill(-child.pid, signal);
        } catch {
          // It has ended at this moment.
        }
        await Promise.race([done.catch(() => undefined), sleep(2000)]);
      }
      await done.catch(() => undefined);
    },
  };
}

function putInPlace(made, place, folder) {
  if (existsSync(place)) renameSync(place, join(folder, `old-${Math.random()}`));
  renameSync(made, place);
}

/** What builds left that were killed. */
function dropLeftovers(making) {
  if (!existsSync(making)) return;
  for (const name of readdirSync(making))
    if (name.startsWith(PREFIX) && !isAlive(Number(name.slice(PREFIX.length))))
      rmSync(join(making, name), { recursive: true, force: true });
}

const timeOf = (file) => (existsSync(file) ? statSync(file).mtimeMs : 0);

/** Time of the newest source file, in ms. */
function newest(paths) {
  let time = 0;
  for (const path of paths) {
    const stat = statSync(path);
    if (!stat.isDirectory()) time = Math.max(time, stat.mtimeMs);
    else
      time = Math.max(
        time,
        newest(
          readdirSync(path)
            .filter((n) => n !== 'dist' && n !== 'node_modules')
            .map((n) => join(path, n)),
        ),
      );
  }
  return time;
}
