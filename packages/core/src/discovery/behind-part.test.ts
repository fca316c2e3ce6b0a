import { parseFilterOver } from '../incidents/index.js';
import { behindPart } from './behind-part.js';
import { EXPOSURE_PARTS } from './exposure.js';
import { ITEM_FIELD_TABLE } from './fields.js';

const NOW = Date.parse('2026-11-30T09:00:00Z');
const place = { name: 'Claims "old" & new', above: ['Sealed hold', 'Bridge only'] };

it.each(EXPOSURE_PARTS)('the filter behind %s can be read, and is about the place alone', (code) => {
  const line = behindPart(code, place, NOW);
  expect(parseFilterOver(ITEM_FIELD_TABLE, line).status).toBe('read');
  expect(line).toContain('place eq "Claims \\"old\\" & new"');
  expect(line).toContain('quarantined eq false');
});

it('asks for every label above that of the place, and for nothing changed in three years', () => {
  expect(behindPart('above-place', place, NOW)).toContain(
    '(label eq "Sealed hold" or label eq "Bridge only")',
  );
  expect(behindPart('old', place, NOW)).toContain('changed lt "2023-12-01T09:00:00.000Z"');
  expect(behindPart('misplaced', place, NOW)).toContain('misplaced eq true and state ne "gone"');
});
