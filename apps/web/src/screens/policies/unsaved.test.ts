import { policyOf } from '@lantern/testkit';
import { forgetUnsaved, keepUnsaved, unsavedOf } from './unsaved';

const kept = new Map<string, string>();
beforeAll(() => {
  Object.assign(globalThis, {
    sessionStorage: {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => kept.set(key, value),
      removeItem: (key: string) => kept.delete(key),
    },
  });
});

const policy = policyOf('Berths', []);
const view = (version: number) => ({ policy, version });

describe('text that is not saved yet', () => {
  it('is found again over the version that it was written over, and no other', () => {
    keepUnsaved({ ...policy, name: 'Berths and quays' }, 4);
    expect(unsavedOf(view(4))?.name).toBe('Berths and quays');
    expect(unsavedOf(view(5))).toBeNull();
    forgetUnsaved(policy.id);
    expect(unsavedOf(view(4))).toBeNull();
  });

  it('is nothing where it cannot be read, or where nothing can be kept', () => {
    kept.set(`unsaved policy ${policy.id}`, '{');
    expect(unsavedOf(view(4))).toBeNull();
    sessionStorage.setItem = () => {
      throw new Error('full');
    };
    expect(() => keepUnsaved(policy, 4)).not.toThrow();
  });
});
