/** Card numbers published for tests, and a line as travel documents print it for tests (ICAO 9303 part 4, Utopia). */
const TEST_CARDS = ['4111 1111 1111 1111', '5555 5555 5555 4444', '3782 822463 10005', '6011 1111 1111 1117'];
const TEST_PASSPORT =
  'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10';

/** Bookings that the booking system of the demo shows. */
export function deskRecords(names: readonly string[]): { readonly name: string; readonly text: string }[] {
  return names.map((name, index) => ({
    name: `Booking ${4100 + index}, ${name}`,
    text: [
      `Booking ${4100 + index}`,
      `Lead passenger: ${name}`,
      `Paid by card ${TEST_CARDS[index % TEST_CARDS.length] ?? ''}`,
      ...(index % 3 === 0 ? [`Passport:\n${TEST_PASSPORT}`] : []),
    ].join('\n'),
  }));
}
