import { type Role, ROLES } from '@lantern/contracts';
import { AREAS, homeOf } from './areas';

it.each<[Role, string]>([
  ['first-line', '/incidents'],
  ['second-line', '/incidents'],
  ['policy-author', '/incidents'],
  ['approver', '/incidents'],
  ['business', '/labels'],
  ['auditor', '/incidents'],
  ['administrator', '/administration/accounts'],
])('%s begins at %s', (role, place) => expect(homeOf(ROLES[role])).toBe(place));

it('gives an account without any right its own page', () => expect(homeOf([])).toBe('/account'));

it('leads nobody to an area they may not read', () => {
  for (const permissions of Object.values(ROLES)) {
    const area = AREAS.find(({ to }) => to === homeOf(permissions));
    if (area) expect(permissions).toContain(area.needs);
  }
});
