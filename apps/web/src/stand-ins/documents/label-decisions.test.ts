import type { DocumentDetail } from '@lantern/contracts';
import { effectRefusal } from './label-decisions';

describe('effectRefusal', () => {
  const document = {
    owner: { name: 'Tomas', address: 't@x' },
    leaves: [
      { effect: 'read', allowed: true, clause: { code: 'inside' } },
      { effect: 'pass-on', allowed: false, clause: { code: 'not-granted' } },
    ],
  } as unknown as DocumentDetail;

  it('says why and whom to ask, and nothing where it is allowed', () => {
    expect(effectRefusal(document, 'read')).toBeNull();
    expect(effectRefusal(document, 'pass-on')).toBe('the label does not name you; ask Tomas');
    expect(effectRefusal(null, 'change')).toBeNull();
  });
});
