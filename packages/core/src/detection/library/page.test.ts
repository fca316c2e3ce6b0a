import { readFileSync } from 'node:fs';
import { READY_PATTERNS } from './index.js';

describe('docs/library.md', () => {
  it('lists every pattern of the library; node scripts/library-page.mjs writes it anew', () => {
    const page = readFileSync(new URL('../../../../../docs/library.md', import.meta.url), 'utf8');
    const missing = READY_PATTERNS.filter((pattern) => !page.includes(`| ${pattern.name.replace(/\|/g, '\\|')} |`));
    expect(missing.map((pattern) => pattern.id)).toEqual([]);
    expect(page).toContain(`${READY_PATTERNS.length} patterns.`);
  });
});
