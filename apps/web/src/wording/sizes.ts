/** A file's size in words; one decimal below ten. */
export function sizeWords(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  const [value, unit] = bytes < 1e6 ? [bytes / 1e3, 'kB'] : [bytes / 1e6, 'MB'];
  return `${value < 10 ? value.toFixed(1) : Math.round(value)} ${unit}`;
}
