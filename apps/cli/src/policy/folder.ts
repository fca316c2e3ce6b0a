import { createHash } from 'node:crypto';
import { relative, sep } from 'node:path';
import { READY_PATTERNS } from '@lantern/core';
import {
  type LabelSetReading,
  MAX_FILES,
  readLabelSet,
  readSet,
  type SetReading,
  type SetText,
} from '@lantern/set-files';
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
  const files = await filesOf(folder);
  const labels = labelsIn(files);
  if (labels?.status === 'faulty') return labels;
  return readSet(files, {
    patterns: [],
    ...(labels ? { labels: labels.set.labels } : {}),
    onlyUuids: true,
    idFor: (kind, name) => digestOf(`${kind} ${name}`),
  });
}

const digestOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 32);

/** Labels of the folder's own file, to which rules refer; nothing where there is none. */
function labelsIn(files: readonly SetText[]): LabelSetReading | undefined {
  const file = files.find(({ path }) => path === 'labels.yaml');
  return (
    file &&
    readLabelSet(file.text, {
      patterns: [],
      knowsPatterns: false,
      idFor: (kind, name) =>
        digestOf(`${kind} ${name}`).replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5'),
    })
  );
}

/** Ids of every pattern that rules of a set may ask for. */
export function patternsOf(reading: SetReading & { status: 'read' }): Set<string> {
  return new Set(
    [...READY_PATTERNS, ...reading.set.patterns, ...reading.elsewhere].map(({ id }) => String(id)),
  );
}
