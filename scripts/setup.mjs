/**
 * What both commands share: installs what is missing on a fresh machine, with nothing but Node's own modules.
 */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('..', import.meta.url));

process.env.ASTRO_TELEMETRY_DISABLED = '1';

/** Runs a command with its output shown; true when it succeeded. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
  if (error) process.stderr.write(`${command}: ${error.message}\n`);
  return status === 0;
}

/** Ends the program with a message when a step that everything rests on failed. */
function must(succeeded, message) {
  if (succeeded) return;
  process.stderr.write(`${message}\n`);
  process.exit(1);
}

/** Installs the npm packages of the lock file unless just these are installed. */
export function installPackages() {
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
  must(
    major > 20 || (major === 20 && minor >= 19),
    `Node ${process.versions.node} is too old. Install Node 20.19 or later.`,
  );
  const lock = createHash('sha256')
    .update(readFileSync(`${ROOT}/package-lock.json`))
    .digest('hex');
  const mark = `${ROOT}/node_modules/.installed`;
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  process.stdout.write('Installing packages (a few minutes the first time)\n');
  must(
    run('npm', ['ci', '--no-audit', '--no-fund']),
    'The packages could not be installed. Is the npm registry reachable?',
  );
  writeFileSync(mark, lock);
}

/** Installs Debian's browser and driver for the tests where they are missing. */
export function installBrowser() {
  if (existsSync('/usr/lib/chromium/chromium') && existsSync('/usr/bin/chromedriver')) return;
  process.stdout.write('Installing chromium and its driver\n');
  const root = process.getuid?.() === 0;
  const apt = (...args) => (root ? run('apt-get', args) : run('sudo', ['-n', 'apt-get', ...args]));
  process.env.DEBIAN_FRONTEND = 'noninteractive';
  must(
    apt('update') &&
      apt(
        'install',
        '-y',
        '--no-install-recommends',
        'chromium',
        'chromium-driver',
        'fonts-liberation',
      ),
    "chromium could not be installed. Install Debian's packages chromium and chromium-driver and try again.",
  );
}

/** Builds the app. */
export function build() {
  return run('node_modules/.bin/astro', ['build']);
}
