import { sizeWords } from '../wording/sizes';

/** Largest file that the mail window takes: what the inspection reads. */
export const LARGEST_FILE = 25 * 1024 * 1024;

/** Files that cannot be taken along, as a sentence; the others stay. */
export function refusedFiles(
  files: readonly { readonly name: string; readonly size: number }[],
): string | null {
  const large = files.filter((file) => file.size > LARGEST_FILE);
  if (large.length === 0) return null;
  const names = large.map((file) => `${file.name} (${sizeWords(file.size)})`).join(', ');
  return `${names} ${large.length === 1 ? 'is' : 'are'} larger than 25 MB and ${large.length === 1 ? 'was' : 'were'} not attached. Everything else is still here.`;
}

/** Addresses in what was typed or pasted: separated by commas, semicolons, spaces or lines. */
export function splitAddresses(typed: string): string[] {
  return typed
    .split(/[\s,;]+/)
    .map((address) => address.replace(/^<|>$/g, ''))
    .filter(Boolean);
}
