/** Files made to hurt a reader: what a few bytes ask for is not given, and every file has its answer. */
import { HOSTILE_FILES } from '@lantern/testkit';
import { MAX_PART_TEXT } from './limits.js';
import { readFile } from './index.js';

/** Numbers in these files ask for far more than they hold; the rest is the business of `npm run faults`. */
const CLAMPED =
  /^(columns|rows|square|tables|wide|list|lines|span|far|exponents|hidden|spaces|skip|deep|ways|lying|pages|no-pages|huge|empty|half|brackets|entities)/;
const makers = Object.entries(HOSTILE_FILES).filter(([name]) => CLAMPED.test(name));

it.each(makers)('reads %s within its bounds', async (name, make) => {
  const parts = await readFile({ name, bytes: make() });
  const characters = parts.reduce((sum, part) => sum + (part.status === 'read' ? part.text.length : 0), 0);
  expect(characters).toBeLessThan(MAX_PART_TEXT);
  // A path that leads out of an archive leads nowhere: it is a name to be shown.
  for (const { path } of parts) expect(path[0]).toBe(name);
});
