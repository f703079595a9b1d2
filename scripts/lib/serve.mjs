import { spawn } from 'node:child_process';
import { linkSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { isBuilt, startBuild } from './build.mjs';
import { startMariadb } from './mariadb.mjs';
import { prepare, ROOT } from './prepare.mjs';
import { commandLine, isAlive, isPortTaken, onStopSignal, sleep } from './processes.mjs';
import { Refusal, say } from './say.mjs';

/** How often a server that ended by itself is started again, and within which time. */
const MOST_RESTARTS = 5;
const RESTART_WINDOW_MS = 60_000;
/** A server that ends so would end so again: it has said why. */
const FOR_GOOD = 3;

/**
 * Starts the database and the server on a data folder and keeps them going until a signal comes.
 * @param command what was typed, for the sentences: `npm start`.
 * @param withDemo whether the demo's rig is put into an empty folder.
 */
export async function serve({ command, defaultPort, defaultFolder, withDemo }) {
  const { fresh, port, folder } = readArguments({ defaultPort, defaultFolder, withDemo });
  // Somebody's own database is used as it is: started, stopped and emptied by them.
  const ownUrl = withDemo ? undefined : process.env.DATABASE_URL;
  const unlock = lock(folder, command);
  let database = null;
  let server = null;
  let build = null;
  let isStopping = false;
  const stop = async () => {
    isStopping = true;
    await build?.stop();
    await server?.stop();
    await database?.stop();
    unlock();
  };
  onStopSignal(async () => {
    say('\nStopping …');
    await stop();
    say('Stopped; your data is kept.');
  });
  try {
    if (await isPortTaken(port))
      throw new Refusal(
        `Port ${port} is taken by another program. Take another one: ${command} -- --port ${port + 1}`,
      );
    await prepare(ownUrl === undefined ? ['mariadbd'] : []);
    if (!isBuilt()) {
      say('Building …');
      build = startBuild(['ignore', 'ignore', 'inherit']);
      await build.done;
      build = null;
    }
    if (ownUrl === undefined) {
      say('Starting the database …');
      database = await startMariadb(join(folder, 'database'), { fresh, revive: true });
    }
    server = keepServing({
      databaseUrl: ownUrl ?? database.url,
      port,
      withDemo,
      backupFolder: join(folder, 'backups'),
      isStopping: () => isStopping,
    });
    await server.listening;
    const where = ownUrl === undefined ? `in ${folder}` : 'in the database of DATABASE_URL';
    say(
      `\nIdle Step is at http://127.0.0.1:${port}\nWhat you make is kept ${where}. Ctrl+C stops it${ownUrl === undefined ? ' and its database' : ''}.\n`,
    );
    const why = await server.ended;
    if (!isStopping) throw new Refusal(why);
  } catch (error) {
    if (!isStopping) await stop();
    throw error;
  }
}

/** What a demo made is thrown away with `--fresh`; what somebody made for every day never is. */
function readArguments({ defaultPort, defaultFolder, withDemo }) {
  const forDemo = withDemo ? { fresh: { type: 'boolean', default: false } } : {};
  try {
    const { values } = parseArgs({
      options: {
        ...forDemo,
        port: { type: 'string' },
        data: { type: 'string' },
      },
    });
    const port = Number(values.port ?? process.env.PORT ?? defaultPort);
    if (!Number.isInteger(port) || port < 1 || port > 65535)
      throw new Error(`--port ${values.port} is no port; 1024 to 65535 would be right`);
    return { fresh: values.fresh === true, port, folder: resolve(values.data ?? defaultFolder) };
  } catch (error) {
    throw new Refusal(
      `${error.message}. Known: ${withDemo ? '--fresh (start over), ' : ''}--port N, --data FOLDER.`,
    );
  }
}

/** One at a time on one data folder. @returns how to let go. */
function lock(folder, command) {
  try {
    return lockFolder(folder, command);
  } catch (error) {
    const why = FOLDER_FAULTS[error.code];
    throw why ? new Refusal(`${folder} ${why}`) : error;
  }
}

/** Why a folder takes no data, by what the system says of it. */
const FOLDER_FAULTS = {
  EEXIST: 'is a file; a folder is needed for your data. Name another one: --data FOLDER.',
  ENOTDIR: 'lies within a file; a folder is needed for your data. Name another one: --data FOLDER.',
  EACCES: 'may not be written to. Give yourself the right to, or name another folder: --data FOLDER.',
  EPERM: 'may not be written to. Give yourself the right to, or name another folder: --data FOLDER.',
  EROFS: 'lies on a disk that can only be read. Name another folder: --data FOLDER.',
  ENOENT: 'cannot be made. Name another folder: --data FOLDER.',
  ENOSPC: 'has no room left: the disk is full. Make room, or name a folder on another disk: --data FOLDER.',
  EDQUOT:
    'has no room left: your share of the disk is used up. Make room, or name another folder: --data FOLDER.',
};

function lockFolder(folder, command) {
  mkdirSync(folder, { recursive: true });
  const file = join(folder, 'running');
  for (let attempt = 0; attempt < 2; attempt++) {
    try {
      // With its number in it at once: whoever comes at the same moment reads no empty file.
      const own = `${file}-${process.pid}`;
      writeFileSync(own, String(process.pid));
      try {
        linkSync(own, file);
      } finally {
        rmSync(own, { force: true });
      }
      return () => rmSync(file, { force: true });
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const pid = Number(readFileSync(file, 'utf8'));
      if (pid > 0 && isAlive(pid) && /(demo|start)\.mjs/.test(commandLine(pid)))
        throw new Refusal(
          `${command} is running already. Stop it first (Ctrl+C where it was started), or use its page.`,
        );
      rmSync(file, { force: true });
    }
  }
  throw new Refusal(`Another ${command} is starting at the same moment. Try again.`);
}

/** Runs the server and starts it again when it ends by itself. `ended` resolves to why it was given up. */
function keepServing({ databaseUrl, port, withDemo, backupFolder, isStopping }) {
  let child = null;
  let tellListening;
  const listening = new Promise((resolve) => (tellListening = resolve));
  const restarts = [];
  const ended = (async () => {
    for (;;) {
      child = spawn(process.execPath, [join(ROOT, 'apps/server/dist/main.js')], {
        env: {
          ...process.env,
          DATABASE_URL: databaseUrl,
          PORT: String(port),
          WEB_ROOT: join(ROOT, 'apps/web/dist'),
          WITH_DEMO: withDemo ? '1' : '0',
          BACKUP_FOLDER: backupFolder,
          STOP_WITH_STDIN: '1',
        },
        stdio: ['pipe', 'pipe', 'inherit'],
        // Not in the terminal's group: on Ctrl+C this script stops it in order.
        detached: true,
      });
      child.stdout.on('data', (data) => {
        if (String(data).includes('listening')) tellListening();
      });
      const code = await new Promise((resolve) => child.once('exit', (c, signal) => resolve(c ?? signal)));
      if (isStopping()) return 'stopped';
      if (code === FOR_GOOD) return 'It was not started again; nothing was changed.';
      const now = Date.now();
      restarts.push(now);
      if (restarts.filter((t) => now - t < RESTART_WINDOW_MS).length > MOST_RESTARTS)
        return `The server ended ${MOST_RESTARTS + 1} times within a minute, the last time with ${code}; its words stand above.`;
      say(`The server ended (${code}); starting it again.`);
      await sleep(500);
    }
  })();
  const stop = async () => {
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await Promise.race([gone, sleep(5000)]);
    if (child.exitCode === null && child.signalCode === null) child.kill('SIGKILL');
  };
  return {
    listening: Promise.race([listening, ended.then((why) => Promise.reject(new Refusal(why)))]),
    ended,
    stop,
  };
}
