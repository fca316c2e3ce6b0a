import { mask } from './mask.js';

describe('mask', () => {
  it.each([
    ['4111 1111 1111 1111', '•••• •••• •••• 1111'],
    ['GB29NWBK60161331926819', '••••••••••••••••••6819'],
    ['Slackwater', '••••••••er'],
    ['abc', '•••'],
    ['', ''],
    ['12 — 34', '•• — •4'],
  ])('hides %p as %p', (value, masked) => expect(mask(value)).toBe(masked));
});
