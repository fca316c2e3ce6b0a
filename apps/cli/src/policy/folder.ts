import { createHash } from 'node:crypto';
import { relative, sep } from 'node:path';
import type { Crossings } from '@lantern/contracts/crossings';
import { type OwnPattern, READY_PATTERNS } from '@lantern/core/detection';
import { NO_LABELS, type WholeLabelSet } from '@lantern/core/labels';
import {
  CROSSINGS_FILE,
  type LabelSetReading,
  MAX_FILES,
  readCrossings,
  readLabelSet,
  readSet,
  type SetReading,
  type SetText,
} from '@lantern/set-files';
import { bytesOf } from '../bytes-of.js';
import { filesBelow } from '../files-below.js';

/** Every YAML file of a folder with its path inside it. */
export async function filesOf(folder: string): Promise<SetText[]> {
  const files: SetText[] = [];
  for (const path of filesBelow(folder)) {
    if (!/\.ya?ml$/.test(path)) continue;
    if (files.length >= MAX_FILES) throw new Error(`holds more than ${MAX_FILES} files`);
    files.push({
      path: relative(folder, path).split(sep).join('/'),
      text: Buffer.from(bytesOf(path)).toString('utf8'),
    });
  }
  return files;
}

type Faulty = Extract<SetReading, { readonly status: 'faulty' }>;
/** A folder whose every file was read, with the labels to which its rules refer. */
export type ReadFolder = Extract<SetReading, { readonly status: 'read' }> & {
  readonly labels: WholeLabelSet;
  readonly crossings: Crossings;
};

/** Reads the set of a folder. What has no id is given one that is the same every time. */
export async function readFolder(folder: string): Promise<ReadFolder | Faulty> {
  const files = await filesOf(folder);
  const named = labelsIn(files, []);
  if (named?.status === 'faulty') return named;
  const reading = readSet(files, {
    patterns: [],
    ...(named ? { labels: named.set.labels } : {}),
    onlyUuids: true,
    idFor: (kind, name) => digestOf(`${kind} ${name}`),
  });
  if (reading.status === 'faulty') return reading;
  // Automatic rules may name patterns of the set, which are known only now.
  const labels = labelsIn(files, reading.set.patterns);
  if (labels?.status === 'faulty') return labels;
  const file = files.find(({ path }) => path === CROSSINGS_FILE);
  const crossings = file ? readCrossings(file.text) : null;
  if (crossings?.status === 'faulty') return crossings;
  return {
    ...reading,
    labels: labels?.set ?? NO_LABELS,
    crossings: crossings?.crossings ?? { services: [], workspaces: [], sets: [] },
  };
}

const digestOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 32);

/** Labels of the folder's own file, to which rules refer; nothing where there is none. */
function labelsIn(files: readonly SetText[], own: readonly OwnPattern[]): LabelSetReading | undefined {
  const file = files.find(({ path }) => path === 'labels.yaml');
  return (
    file &&
    readLabelSet(file.text, {
      patterns: [...READY_PATTERNS, ...own],
      knowsPatterns: false,
      idFor: (kind, name) =>
        digestOf(`${kind} ${name}`).replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5'),
    })
  );
}

/** Ids of every pattern that rules of a set may ask for. */
export function patternsOf(reading: ReadFolder): Set<string> {
  return new Set(
    [...READY_PATTERNS, ...reading.set.patterns, ...reading.elsewhere].map(({ id }) => String(id)),
  );
}
