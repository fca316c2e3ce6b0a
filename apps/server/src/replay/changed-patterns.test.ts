import type { OwnPattern } from '@lantern/core/detection';
import { NO_LABELS } from '@lantern/core/labels';
import { automaticOf, policyOf, ruleOf, setOf } from '@lantern/testkit';
import { mustDetect } from './changed-patterns.js';

const words = (id: string, name: string): OwnPattern =>
  ({ id, kind: 'words', name }) as unknown as OwnPattern;
const asks = (pattern: string) =>
  setOf([policyOf('P', [ruleOf('r', { when: { kind: 'findings', pattern, atLeast: 1 } as never })])]);
const labelling = (pattern: string) => ({
  ...NO_LABELS,
  automatic: [
    automaticOf('l', { content: [{ pattern, distinct: true, certainty: 80, atLeast: 1 }] as never }),
  ],
});
const nothing = setOf([]);

describe('whether texts must be looked at again', () => {
  const old = [words('ships', 'Ships')];
  const changed = [words('ships', 'Ships of the line')];

  it.each([
    ['nothing changed', old, old, asks('ships'), NO_LABELS, false],
    ['a pattern that a rule asks for changed', old, changed, asks('ships'), NO_LABELS, true],
    ['a pattern that an automatic rule asks for changed', old, changed, nothing, labelling('ships'), true],
    ['a pattern that nobody asks for changed', old, changed, asks('iban'), labelling('iban'), false],
    ['a pattern came that is asked for', [], old, asks('ships'), NO_LABELS, true],
    ['a pattern went that is asked for', old, [], nothing, labelling('ships'), true],
    ['ready patterns alone are asked for', [], [], asks('payment-card'), labelling('payment-card'), false],
  ])('%s', (_what, made, wanted, set, labels, must) =>
    expect(mustDetect(made, wanted, set, labels)).toBe(must),
  );
});
