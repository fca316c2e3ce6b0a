import { lstatSync, readdirSync, type Stats } from 'node:fs';
import { join } from 'node:path';

/** Told of what could not be opened; the rest goes on. */
export type OnProblem = (path: string, message: string) => void;

/** A file and how many bytes it has. */
export interface FoundFile {
  readonly path: string;
  readonly size: number;
}

/**
 * Every file at or below `path`, in a stable order; symbolic links are not followed. Throws for what cannot be opened,
 * unless told where to say so. One after the other without waiting: a command has nothing else to do.
 */
export function* foundBelow(path: string, onProblem?: OnProblem): Generator<FoundFile> {
  const found = looked(path, onProblem, (at) => lstatSync(at));
  if (found?.isDirectory()) yield* inFolder(path, onProblem);
  else if (found) yield { path, size: found.size };
}

/** The same, as paths alone. */
export function* filesBelow(path: string, onProblem?: OnProblem): Generator<string> {
  for (const found of foundBelow(path, onProblem)) yield found.path;
}

function* inFolder(folder: string, onProblem?: OnProblem): Generator<FoundFile> {
  const entries = looked(folder, onProblem, (at) => readdirSync(at, { withFileTypes: true })) ?? [];
  for (const { name } of entries.sort((left, right) => (left.name < right.name ? -1 : 1))) {
    const path = join(folder, name);
    const entry: Stats | null = looked(path, onProblem, (at) => lstatSync(at));
    if (entry?.isDirectory()) yield* inFolder(path, onProblem);
    else if (entry?.isFile()) yield { path, size: entry.size };
  }
}

function looked<Value>(
  at: string,
  onProblem: OnProblem | undefined,
  look: (path: string) => Value,
): Value | null {
  try {
    return look(at);
  } catch (error) {
    if (!onProblem) throw error;
    onProblem(at, error instanceof Error ? error.message : 'could not be opened');
    return null;
  }
}
