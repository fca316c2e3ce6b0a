import { readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { ROOT } from './paths.mjs';

const STATIC_IMPORT = /^(?:import|export)\s(?:[^'"]*?\sfrom\s)?['"]([^'"]+)['"]/gmu;

/** Packages that a script and everything it imports load before its first line runs, each with the file that does. */
function packagesOf(file, seen = new Set()) {
  if (seen.has(file)) return [];
  seen.add(file);
  const names = [...readFileSync(file, 'utf8').matchAll(STATIC_IMPORT)].map(([, name]) => name);
  return names.flatMap((name) => {
    if (name.startsWith('node:')) return [];
    return name.startsWith('.') ? packagesOf(resolve(dirname(file), name), seen) : [`${name} in ${file}`];
  });
}

const { scripts } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8'));
const COMMANDS = Object.values(scripts).flatMap((line) => /scripts\/[\w-]+\.mjs/u.exec(line) ?? []);

it('knows the commands, and what a script loads', () => {
  expect(COMMANDS).toEqual(expect.arrayContaining(['scripts/start.mjs', 'scripts/test.mjs']));
  const own = join(ROOT, 'scripts/lib/trail.test.mjs');
  expect(packagesOf(own)).toContain(`mysql2/promise in ${own}`);
});

it.each(COMMANDS)('%s begins on a fresh machine, where no package is installed yet', (command) => {
  expect(packagesOf(join(ROOT, command))).toEqual([]);
});
