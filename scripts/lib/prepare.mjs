import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { hasCommand, run } from './processes.mjs';
import { Refusal, say } from './say.mjs';

/** The folder of the project. */
export const ROOT = fileURLToPath(new URL('../..', import.meta.url));

const DEBIAN = { mariadbd: 'mariadb-server', chromium: 'chromium' };

/**
 * Installs what is missing: Debian packages by the commands they bring, and the project's npm packages.
 * Without the right to install it names the one command that needs it.
 * @param commands among `mariadbd` and `chromium`.
 */
export async function prepare(commands) {
  await installDebian(commands.filter((c) => !hasServerCommand(c)).map((c) => DEBIAN[c]));
  await installNpm();
}

const hasServerCommand = (name) => hasCommand(name) || existsSync(join('/usr/sbin', name));

async function installDebian(packages) {
  if (packages.length === 0) return;
  const names = packages.join(' ');
  if (process.getuid?.() !== 0)
    throw new Refusal(
      `Missing on this machine: ${names}. This one command needs rights: sudo apt-get install -y --no-install-recommends ${names}`,
    );
  if (!hasCommand('apt-get'))
    throw new Refusal(`Missing on this machine: ${names}, and there is no apt-get to install it.`);
  say(`Installing ${names} …`);
  // Debian would start the machine's own database after the install; this project only uses its own process.
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive', RUNLEVEL: '1' };
  const quiet = { env, stdio: ['ignore', 'ignore', 'inherit'] };
  if ((await run('apt-get', ['update', '-qq'], quiet)) !== 0)
    throw new Refusal('apt-get update failed; see above.');
  const code = await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], quiet);
  if (code !== 0) throw new Refusal(`apt-get could not install ${names}; see above.`);
}

/** Runs `npm ci` unless what is installed was installed from this very lock file. */
async function installNpm() {
  const mark = join(ROOT, 'node_modules', '.idle-step-lock');
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  say('Installing npm packages …');
  const code = await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: ROOT });
  if (code !== 0) throw new Refusal('npm ci failed; see above.');
  writeFileSync(mark, lock);
}
