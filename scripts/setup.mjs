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

/** What the tests use of Debian's packages: a file that shows a package is there, and the package. */
const TEST_PACKAGES = [
  ['/usr/lib/chromium/chromium', 'chromium'],
  ['/usr/bin/chromedriver', 'chromium-driver'],
  ['/usr/share/fonts/truetype/liberation', 'fonts-liberation'],
  ['/usr/bin/xmllint', 'libxml2-utils'],
  ['/usr/bin/admesh', 'admesh'],
  ['/usr/bin/pdftotext', 'poppler-utils'],
];

/** Installs Debian's browser, its driver and the readers of files that the tests ask, where they are missing. */
export function installTestPackages() {
  const missing = TEST_PACKAGES.filter(([file]) => !existsSync(file)).map(([, name]) => name);
  if (missing.length === 0) return;
  process.stdout.write(`Installing ${missing.join(', ')}\n`);
  const root = process.getuid?.() === 0;
  const apt = (...args) => (root ? run('apt-get', args) : run('sudo', ['-n', 'apt-get', ...args]));
  process.env.DEBIAN_FRONTEND = 'noninteractive';
  must(
    apt('update') && apt('install', '-y', '--no-install-recommends', ...missing),
    `They could not be installed. Install Debian's packages ${missing.join(', ')} and try again.`,
  );
}

/** Builds the app. */
export function build() {
  return run('npm', ['run', '--silent', 'build']);
}
