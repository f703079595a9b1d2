import { spawn, spawnSync } from 'node:child_process';
import { connect, createServer } from 'node:net';
import { constants } from 'node:os';
import { readFileSync } from 'node:fs';

/** Signals on which a script stops what it started: Ctrl+C, a stop request, a closed terminal. */
const STOP_SIGNALS = ['SIGINT', 'SIGTERM', 'SIGHUP'];

/** Calls `stop` once at the first stop signal, then leaves with the shell's code for that signal. */
export function onStopSignal(stop) {
  let stopping = false;
  for (const signal of STOP_SIGNALS)
    process.on(signal, () => {
      if (stopping) return;
      stopping = true;
      Promise.resolve(stop(signal)).finally(() => process.exit(128 + constants.signals[signal]));
    });
}

/** Runs a command to its end with its output shown. Resolves to its exit code. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('exit', (code, signal) => resolve(code ?? 128 + (constants.signals[signal] ?? 0)));
  });
}

export const hasCommand = (name) => spawnSync('sh', ['-c', `command -v ${name}`]).status === 0;

export const isAlive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
};

/** The command line of a process, or '' when there is none to read. */
export const commandLine = (pid) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
  } catch {
    return '';
  }
};

/** Asks a process to stop and waits; after `graceMs` it is killed. */
export async function stopProcess(pid, graceMs = 30_000) {
  if (!isAlive(pid)) return;
  process.kill(pid, 'SIGTERM');
  const until = Date.now() + graceMs;
  while (isAlive(pid) && Date.now() < until) await sleep(50);
  if (isAlive(pid)) process.kill(pid, 'SIGKILL');
}

export const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * A free port on loopback, for a server that may come and go: from 20000 to 32767, which no system gives to
 * connections that leave (Linux begins at 32768, RFC 6335 at 49152), so that nobody takes it meanwhile.
 */
export async function freePort() {
  for (let tries = 0; tries < 100; tries++) {
    const port = 20_000 + Math.floor(Math.random() * 12_768);
    if (await canListen(port)) return port;
  }
  throw new Error('No free port was found between 20000 and 32767.');
}

const canListen = (port) =>
  new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });

/** Whether something listens on a loopback port. */
export const isPortTaken = (port) =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
