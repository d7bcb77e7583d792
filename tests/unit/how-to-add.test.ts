import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import ts from 'typescript';

const ROOT = fileURLToPath(new URL('../../', import.meta.url));

/** Where something is added, by the heading of `docs/how-to-add.md`: its list, and that list with one more name in it. */
const LISTS: Readonly<Record<string, readonly [file: string, from: string, to: string]>> = {
  'A height rule': [
    'src/core/heights/height-rules.ts',
    "['tone', 'closest', 'zones', 'flat'] as const",
    "['tone', 'closest', 'zones', 'flat', 'added-rule'] as const",
  ],
  'A stop': ['src/state/view-store.ts', "'sheet', 'rehearse'", "'sheet', 'added-stop', 'rehearse'"],
  'A file format': [
    'src/core/formats/mesh/export-files.ts',
    "  'areas',\n]",
    "  'areas',\n  'added-format',\n]",
  ],
  'A way to pause a printer': [
    'src/core/printer/pause.ts',
    "  '@pause',\n",
    "  '@pause',\n  'ADDED',\n",
  ],
  'A fault to try in a rehearsal': [
    'src/core/rehearse/rehearsal.ts',
    "  'power',\n]",
    "  'power',\n  'added-fault',\n]",
  ],
  'A check of sliced files': [
    'src/core/gcode/finding.ts',
    "  'bad-lines',\n]",
    "  'bad-lines',\n  'added-check',\n]",
  ],
};

/** Files in which the compiler finds something wrong. */
function faultyFiles(changed: ReadonlyMap<string, string>): Map<string, string> {
  const config = ts.readConfigFile(`${ROOT}tsconfig.json`, (path) => ts.sys.readFile(path));
  const { options, fileNames } = ts.parseJsonConfigFileContent(config.config, ts.sys, ROOT);
  const host = ts.createCompilerHost({ ...options, noEmit: true });
  const read = host.readFile.bind(host);
  host.readFile = (path) => changed.get(path.replace(ROOT, '')) ?? read(path);
  host.getSourceFile = (path, language) => {
    const text = host.readFile(path);
    return text === undefined ? undefined : ts.createSourceFile(path, text, language);
  };
  const program = ts.createProgram(
    fileNames.filter((path) => path.startsWith(`${ROOT}src/`)),
    { ...options, noEmit: true, skipLibCheck: true },
    host,
  );
  const faults = new Map<string, string>();
  for (const { file, messageText } of program.getSemanticDiagnostics()) {
    if (!file) continue;
    const path = file.fileName.replace(ROOT, '');
    const text = ts.flattenDiagnosticMessageText(messageText, ' ');
    faults.set(path, `${faults.get(path) ?? ''} ${text}`);
  }
  return faults;
}

/** Places named under each heading of the page, numbered as there. */
function recipes(): Map<string, string[]> {
  const page = readFileSync(`${ROOT}docs/how-to-add.md`, 'utf8');
  return new Map(
    page
      .split(/^## /m)
      .slice(1)
      .map((part) => [
        part.slice(0, part.indexOf('\n')),
        [...part.matchAll(/^\d\. `([^`]+)`/gm)].map(([, path]) => path ?? ''),
      ]),
  );
}

describe('how to add', () => {
  it('the compiler names the places that the page names, three at most', () => {
    const changed = new Map(
      Object.values(LISTS).map(([file, from, to]) => {
        const text = readFileSync(`${ROOT}${file}`, 'utf8');
        expect(text.split(from), file).to.have.length(2);
        return [file, text.replace(from, to)] as const;
      }),
    );
    const lists = new Set(Object.values(LISTS).map(([file]) => file));
    const pages = recipes();
    const named = new Map(Object.keys(LISTS).map((what) => [what, new Set(pages.get(what))]));
    for (const [what, places] of named) {
      expect(places.size, what).to.be.within(1, 3);
      expect([...places][0] === LISTS[what]?.[0], `${what} begins with its list`).to.equal(true);
    }
    // Every file that no longer compiles is on the page, and everything on the page but the lists no longer compiles.
    const faulty = [...faultyFiles(changed).keys()].filter((path) => !lists.has(path));
    const expected = [...named.values()].flatMap((places) => [...places].slice(1));
    expect(faulty.sort()).to.deep.equal(expected.sort());
  });

  it('an edit stands in three files: where it is made, where it is called, and where it is tried', () => {
    const files = ['src', 'tests/helpers'].flatMap((folder) =>
      readdirSync(`${ROOT}${folder}`, { recursive: true, encoding: 'utf8' })
        .filter((path) => /\.tsx?$/.test(path))
        .map((path) => `${folder}/${path}`),
    );
    for (const edit of ['setCalm', 'setSpliceMargin', 'setTrim', 'reverseTone']) {
      const word = new RegExp(`\\b${edit}\\b`);
      const places = files.filter((path) => word.test(readFileSync(`${ROOT}${path}`, 'utf8')));
      expect(places, edit).to.have.length(3);
      expect(places.join(' '), edit).to.match(/features.*state\/edits.*tests\/helpers\/edits\.ts$/);
    }
  });
});
