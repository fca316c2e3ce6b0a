import { stateOf } from './draft-state.js';

describe('stateOf', () => {
  const published = [{ id: 'a', name: 'Cards', rules: [{ x: 1, y: 2 }] }];

  it.each([
    [
      'published, whatever the order of its fields',
      { rules: [{ y: 2, x: 1 }], name: 'Cards', id: 'a' },
      'published',
    ],
    ['changed by one value', { id: 'a', name: 'Cards', rules: [{ x: 1, y: 3 }] }, 'changed'],
    ['new', { id: 'b', name: 'Cards', rules: [] }, 'new'],
  ])('%s', (_name, draft, state) => expect(stateOf(draft, published)).toBe(state));
});
