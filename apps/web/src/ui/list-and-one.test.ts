import { chosenOf } from './list-and-one';

const ROWS = [{ id: 'a' }, { id: 'b' }];

it.each<[string, string | null, boolean, string | undefined]>([
  ['the first where nothing is named', null, true, 'a'],
  ['the named one', 'b', true, 'b'],
  ['nothing while a new one is on its way', 'c', true, undefined],
  ['the first where the named one is gone', 'c', false, 'a'],
])('chooses %s', (_name, id, isFetching, expected) =>
  expect(chosenOf(ROWS, id, isFetching)?.id).toBe(expected),
);

it('chooses nothing of nothing', () => expect(chosenOf(undefined, null, true)).toBeUndefined());
