// What the machine needs: Debian packages and node_modules.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './bundle.mjs';
import { say, Stop } from './say.mjs';

export const isRoot = process.getuid?.() === 0;

/** Environment of every child: no telemetry, no browser downloads. */
export const quietEnvironment = {
  NEXT_TELEMETRY_DISABLED: '1',
  PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1',
};

const packages = {
  postgresql: { isThere: () => postgresBinaries() !== null, why: 'the database' },
  chromium: { isThere: () => existsSync('/usr/bin/chromium'), why: 'the browser tests' },
  'hdf5-tools': { isThere: () => existsSync('/usr/bin/h5dump'), why: 'tests that read SOFA files' },
};

/** Folder of the newest PostgreSQL server that Debian installed, or null. */
export function postgresBinaries() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base).filter((version) =>
    existsSync(join(base, version, 'bin/initdb')),
  );
  versions.sort((a, b) => Number(b) - Number(a));
  return versions.length > 0 ? join(base, versions[0], 'bin') : null;
}

/**
 * Installs the Debian packages that are missing, as root or through sudo without a password; else
 * says which.
 */
export function ensurePackages(names) {
  const missing = names.filter((name) => !packages[name].isThere());
  if (missing.length === 0) return;
  const list = missing.join(' ');
  const byHand = `Please run, as root:\n\n    apt-get update && apt-get install -y ${list}\n\nand start again.`;
  const reasons = missing.map((name) => `${name} (${packages[name].why})`).join(' and ');
  if (!existsSync('/usr/bin/apt-get'))
    throw new Stop(
      `Missing: ${reasons}. This machine has no apt-get; install them in its own way.`,
    );
  const prefix = isRoot ? [] : ['sudo', '-n'];
  if (!isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0)
    throw new Stop(
      `Missing: ${reasons}. Installing needs root, and sudo is not permitted without a password here.\n${byHand}`,
    );
  say(`Installing ${list} …`);
  const apt = (...args) => {
    const [command, ...rest] = [
      ...prefix,
      'env',
      'DEBIAN_FRONTEND=noninteractive',
      'apt-get',
      '-q',
      ...args,
    ];
    const result = spawnSync(command, rest, { encoding: 'utf8', maxBuffer: 1 << 26 });
    if (result.status !== 0)
      throw new Stop(
        `apt-get ${args[0]} failed:\n${(result.stderr || result.stdout || String(result.error)).trim().split('\n').slice(-5).join('\n')}\n${byHand}`,
      );
  };
  apt('update');
  apt('install', '-y', '--no-install-recommends', ...missing);
  const still = missing.filter((name) => !packages[name].isThere());
  if (still.length > 0)
    throw new Stop(`${still.join(' and ')} did not arrive with apt-get.\n${byHand}`);
}

/** Installs node_modules when they are missing or belong to another package-lock.json. */
export function ensureNodeModules() {
  const stamp = join(root, 'node_modules/.fair-lock');
  const wanted = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Installing the packages of package-lock.json …');
  try {
    execFileSync('npm', ['ci', '--no-audit', '--no-fund'], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, ...quietEnvironment, NODE_ENV: 'development' },
    });
  } catch {
    throw new Stop(
      'npm ci failed; its message is above. Check the connection to the npm registry and start again.',
    );
  }
  writeFileSync(stamp, wanted);
}

/**
 * The project's folder for data that is not in git; FAIR_FOLDER names another, for a second
 * instance.
 */
export function privateFolder() {
  const folder = process.env.FAIR_FOLDER ?? join(root, '.fair');
  mkdirSync(folder, { recursive: true });
  return folder;
}
