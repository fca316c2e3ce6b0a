import { countOf, heardByDesk, isPicked, useDesk } from './desk-store';

const store = () => useDesk.getState();
const anywhere = () => true;

beforeEach(() => {
  store().clear();
  store().newsSeen();
});

it('picks one by one, and is empty again when the last is taken out', () => {
  store().toggle(3);
  store().toggle(5);
  expect(countOf(store().picked)).toBe(2);
  expect(isPicked(store().picked, 5, anywhere)).toBe(true);
  store().toggle(3);
  store().toggle(5);
  expect(store().picked).toEqual({ kind: 'none' });
});

it('picks everything under a filter but for exceptions, and only under that filter', () => {
  store().pickAll({ filter: 'person pr', total: 400, what: 'all' });
  store().toggle(7);
  expect(countOf(store().picked)).toBe(399);
  expect(isPicked(store().picked, 7, anywhere)).toBe(false);
  expect(isPicked(store().picked, 8, (filter) => filter === 'other')).toBe(false);
  store().toggle(7);
  expect(countOf(store().picked)).toBe(400);
});

it('begins a new choice where a row does not stand under the picked filter', () => {
  store().pickAll({ filter: 'person pr', total: 400, what: 'all' });
  store().toggle(7, false);
  expect(store().picked).toEqual({ kind: 'some', numbers: new Set([7]) });
});

it('counts what was recorded since the list was fetched, and nothing else', () => {
  heardByDesk({ kind: 'incident-recorded', number: 1 });
  heardByDesk({ kind: 'incident-changed', number: 1 });
  heardByDesk({ kind: 'incident-recorded', number: 2 });
  expect(store().news).toBe(2);
});
