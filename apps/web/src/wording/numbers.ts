/** A number as it stands in sentences. */
export const count = (value: number): string => value.toLocaleString('en-GB');
