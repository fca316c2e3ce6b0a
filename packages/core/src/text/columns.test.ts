import { Columns } from './columns.js';

const cellOf = (text: string, value: string) => new Columns(text).cellAt(text.indexOf(value));

describe('Columns', () => {
  it.each([
    ['tabs', 'Booking\tCard number\nMS-1\t4111', '4111', 'Card number'],
    ['semicolons', 'a;b;IBAN\n1;2;DE89\n', 'DE89', 'IBAN'],
    ['commas', 'name,passport\nAda,P123', 'P123', 'passport'],
    ['a later row', 'name,card\nAda,1\nBea,2\nCyd,4111', '4111', 'card'],
  ])('finds the heading over a column divided by %s', (_name, text, value, heading) => {
    expect(cellOf(text, value)?.heading).toBe(heading);
  });

  it.each([
    ['prose', 'Please pay the card\n4111', '4111'],
    ['the heading row itself', 'Card number,Name\n1,2', 'Card'],
    ['a row of another width', 'a,card\nx,y,4111', '4111'],
  ])('names no heading for %s', (_name, text, value) => {
    expect(cellOf(text, value)).toBeUndefined();
  });
});
