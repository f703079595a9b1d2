import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { startMariadb } from './lib/mariadb.mjs';
import { prepare, ROOT } from './lib/prepare.mjs';
import { freePort, onStopSignal } from './lib/processes.mjs';
import { runScript, say } from './lib/say.mjs';

/** Both applications with reload on change, against a database of their own. */
await runScript(async () => {
  await prepare(['mariadbd']);
  const database = await startMariadb(join(ROOT, '.data', 'dev', 'database'));
  const apiPort = await freePort();
  const env = {
    ...process.env,
    DATABASE_URL: database.url,
    PORT: String(apiPort),
    WITH_DEMO: '1',
    BACKUP_FOLDER: join(ROOT, '.data', 'dev', 'backups'),
    API_URL: `http://127.0.0.1:${apiPort}`,
  };
  const { build } = await import('vite');
  // The first build has to be there before Node can watch its outcome.
  await build({ root: join(ROOT, 'apps/server'), logLevel: 'warn' });
  const start = (command, args, cwd) => spawn(command, args, { cwd, env, stdio: 'inherit' });
  const children = [
    start('npx', ['vite', 'build', '--watch', '--logLevel=warn'], join(ROOT, 'apps/server')),
    start(
      process.execPath,
      ['--watch', '--watch-preserve-output', 'dist/main.js'],
      join(ROOT, 'apps/server'),
    ),
    start('npx', ['vite'], join(ROOT, 'apps/web')),
  ];
  onStopSignal(async () => {
    for (const child of children) child.kill('SIGTERM');
    await database.stop();
  });
  say('The page reloads by itself when a file of it changes; Vite names its address above.');
  await Promise.all(children.map((child) => new Promise((resolve) => child.once('exit', resolve))));
  await database.stop();
});
