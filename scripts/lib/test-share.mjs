import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { ROOT } from './paths.mjs';

const FOLDERS = ['packages', 'apps', 'demo', 'bench', 'scripts', 'e2e'];
const LEFT_OUT = new Set(['dist', 'node_modules']);
const CODE = /\.(?:tsx?|mjs)$/;
const TESTS = /\.test\.(?:tsx?|mjs)$|^e2e\/|^apps\/server\/test\//;

function* filesIn(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (LEFT_OUT.has(entry.name) || entry.name.startsWith('.')) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesIn(path);
    else if (CODE.test(entry.name) && !entry.name.endsWith('.d.ts')) yield path;
  }
}

/** Sentence with the lines of tests divided by the lines of code; blank lines are left out. */
export function testShare() {
  const lines = { tests: 0, code: 0 };
  for (const folder of FOLDERS)
    for (const path of filesIn(join(ROOT, folder))) {
      const count = readFileSync(path, 'utf8')
        .split('\n')
        .filter((line) => line.trim() !== '').length;
      lines[TESTS.test(relative(ROOT, path)) ? 'tests' : 'code'] += count;
    }
  const share = Math.round((lines.tests / lines.code) * 100);
  return `Tests are ${share} % of the code: ${lines.tests} lines for ${lines.code}.`;
}
