import { createHash } from 'node:crypto';
import { relative, sep } from 'node:path';
import { READY_PATTERNS } from '@lantern/core';
import { MAX_FILES, readSet, type SetReading, type SetText } from '@lantern/set-files';
import { bytesOf, filesBelow } from '../inspect-path.js';

/** Every YAML file of a folder with its path inside it. */
export async function filesOf(folder: string): Promise<SetText[]> {
  const files: SetText[] = [];
  for await (const path of filesBelow(folder)) {
    if (!/\.ya?ml$/.test(path)) continue;
    if (files.length >= MAX_FILES) throw new Error(`holds more than ${MAX_FILES} files`);
    files.push({
      path: relative(folder, path).split(sep).join('/'),
      text: Buffer.from(await bytesOf(path)).toString('utf8'),
    });
  }
  return files;
}

/** Reads the set of a folder. What has no id is given one that is the same every time. */
export async function readFolder(folder: string): Promise<SetReading> {
  return readSet(await filesOf(folder), {
    patterns: [],
    onlyUuids: true,
    idFor: (kind, name) => createHash('sha256').update(`${kind} ${name}`).digest('hex').slice(0, 32),
  });
}

/** Ids of every pattern that rules of a set may ask for. */
export function patternsOf(reading: SetReading & { status: 'read' }): Set<string> {
  return new Set(
    [...READY_PATTERNS, ...reading.set.patterns, ...reading.elsewhere].map(({ id }) => String(id)),
  );
}
