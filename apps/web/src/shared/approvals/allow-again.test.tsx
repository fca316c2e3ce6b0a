import { jest } from '@jest/globals';
import { fireEvent, render, screen } from '@testing-library/react';
import { AllowAgain, type AgainTerms, missingIn } from './allow-again';

const TO = ['desk@broker.example', 'files.example'];
const shown = (terms: AgainTerms | null) => {
  const onChange = jest.fn<(terms: AgainTerms | null) => void>();
  render(<AllowAgain destinations={TO} terms={terms} onChange={onChange} />);
  return onChange;
};

it('begins with every destination of the movement, for two weeks', () => {
  const onChange = shown(null);
  fireEvent.click(screen.getByRole('checkbox'));
  expect(onChange).toHaveBeenCalledWith({ days: 14, to: TO });
});

it('offers an address, its whole domain, or neither, and a site by itself alone', () => {
  const onChange = shown({ days: 14, to: TO });
  const choices = (name: string) =>
    [...screen.getByLabelText(`What stays allowed to ${name}`).querySelectorAll('option')].map(
      ({ textContent }) => textContent,
    );
  expect(choices('desk@broker.example')).toEqual([
    'desk@broker.example',
    'anyone at broker.example',
    'not allowed again',
  ]);
  expect(choices('files.example')).toEqual(['files.example', 'not allowed again']);
  fireEvent.change(screen.getByLabelText('What stays allowed to desk@broker.example'), {
    target: { value: '@broker.example' },
  });
  expect(onChange).toHaveBeenLastCalledWith({ days: 14, to: ['files.example', '@broker.example'] });
  fireEvent.change(screen.getByLabelText('What stays allowed to files.example'), { target: { value: '' } });
  expect(onChange).toHaveBeenLastCalledWith({ days: 14, to: ['desk@broker.example'] });
});

it('is taken back with the mark', () => {
  const onChange = shown({ days: 14, to: TO });
  fireEvent.click(screen.getByRole('checkbox'));
  expect(onChange).toHaveBeenCalledWith(null);
});

it.each<[AgainTerms | null, readonly string[], string | null]>([
  [null, TO, null],
  [{ days: 14, to: TO }, TO, null],
  [{ days: 0, to: TO }, TO, 'Choose 1 to 90 days.'],
  [{ days: 91, to: TO }, TO, 'Choose 1 to 90 days.'],
  [{ days: 1.5, to: TO }, TO, 'Choose 1 to 90 days.'],
  [{ days: 5, to: [] }, TO, 'Choose at least one destination that stays allowed.'],
  // What goes nowhere outside names nothing.
  [{ days: 5, to: [] }, [], null],
])('says what is missing in %j for %j', (terms, destinations, missing) =>
  expect(missingIn(terms, destinations)).toBe(missing),
);
