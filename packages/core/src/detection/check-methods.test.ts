import { ibanCheck, icaoCheckDigit, luhn } from './check-methods.js';

describe('luhn', () => {
  // ISO/IEC 7812-1 works the check digit of 7992739871 out as 3 (value as commonly printed; from memory).
  it('accepts the worked example and rejects every other last digit', () => {
    const passing = Array.from({ length: 10 }, (_unused, digit) => digit).filter((digit) =>
      luhn(`7992739871${digit}`),
    );
    expect(passing).toEqual([3]);
  });

  it.each(['4111111111111112', '41111111', '', '4', '4111x11111111111'])('rejects %p', (value) => {
    expect(luhn(value)).toBe(false);
  });
});

describe('ibanCheck', () => {
  // Examples of the IBAN registry published by the ISO 13616 registration authority (from memory).
  it.each([
    'GB29NWBK60161331926819',
    'DE89370400440532013000',
    'NO9386011117947',
    'MT84MALT011000012345MTLCAST001S',
  ])('accepts the registry example %s', (value) => expect(ibanCheck(value)).toBe(true));

  it.each(['GB29NWBK60161331926818', 'DE98370400440532013000', 'GB29', 'GB29NWBK6016133192681é'])(
    'rejects the near miss %s',
    (value) => expect(ibanCheck(value)).toBe(false),
  );
});

describe('icaoCheckDigit', () => {
  // ICAO Doc 9303-3, section 4.9 and Doc 9303-4 Appendix B (specimen of Utopia).
  it.each([
    ['520727', 3],
    ['AB2134<<<', 5],
    ['L898902C3', 6],
    ['740812', 2],
    ['120415', 9],
    ['ZE184226B<<<<<', 1],
    ['L898902C3674081221204159ZE184226B<<<<<1', 0],
  ])('gives %s the digit %d', (field, digit) => expect(icaoCheckDigit(field)).toBe(digit));
});
