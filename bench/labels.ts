/**
 * What labelling costs. How many files a second get a label with its marks, by kind, beside a plain baseline in turns:
 * taking the same file apart and putting it together again (packages), or copying its bytes. Then a look through 5,000
 * files on disk, beside reading their texts alone, with the memory it takes.
 */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { readFile as readBytes } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { type Label, printedMarks } from '@lantern/core/labels';
import { placeFiles, STARTER_LABELS } from '@lantern/demo';
import { type LabelToWrite, MAX_FILE_BYTES, readFile, runFile, writeFileLabel } from '@lantern/files';
import { unzipSync, zipSync } from 'fflate';

const KINDS = ['docx', 'xlsx', 'pptx', 'odt', 'pdf', 'eml'] as const;
/** Files of one kind that take turns with their baseline. */
const OF_A_KIND = 60;
const ROUNDS = 3;
const ON_DISK = 5_000;
const AT = Date.UTC(2026, 10, 26);

interface Made {
  readonly name: string;
  readonly bytes: Uint8Array;
}

function labelling(label: Label): LabelToWrite {
  const facts = { owner: 'ada@merrowstrait.example', setter: 'bench', at: AT, how: 'automatically' } as const;
  const { id, name, rank } = label;
  return {
    label: { id, name, rank, setBy: 'bench', setAt: new Date(AT).toISOString(), how: 'automatically' },
    marks: printedMarks(label, facts),
  };
}

/** The same work without a label: a package is expanded and packed, anything else copied. */
function plain({ bytes }: Made): number {
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return Buffer.from(bytes).length;
  return zipSync(unzipSync(bytes), { level: 6 }).length;
}

const seconds = async (work: () => Promise<unknown>): Promise<number> => {
  const began = performance.now();
  await work();
  return (performance.now() - began) / 1_000;
};

const bridge = STARTER_LABELS.labels.find(({ name }) => name === 'Bridge only');
if (!bridge) throw new Error('The starter labels have no "Bridge only"');
const change = labelling(bridge);

const made = new Map<string, Made[]>();
for await (const { path, bytes } of placeFiles()) {
  const kind = path.split('.').at(-1) ?? '';
  made.set(kind, [...(made.get(kind) ?? []), { name: path, bytes }]);
}

console.log('label and marks, files a second by kind');
const kinds: Record<string, { perSecond: number; plain: number; ratio: number }> = {};
for (const kind of KINDS) {
  const files = (made.get(kind) ?? []).slice(0, OF_A_KIND);
  let labelled = 0;
  let copied = 0;
  for (const file of files.slice(0, 5)) await writeFileLabel(file, change);
  for (let round = 0; round < ROUNDS; round += 1)
    for (const file of files) {
      labelled += await seconds(() => writeFileLabel(file, change));
      copied += await seconds(() =>
        Promise.resolve().then(() => (file.bytes.length > MAX_FILE_BYTES ? 0 : safely(file))),
      );
    }
  const count = files.length * ROUNDS;
  const figures = { perSecond: count / labelled, plain: count / copied, ratio: copied / labelled };
  kinds[kind] = figures;
  console.log(
    `  ${kind.padEnd(6)}${figures.perSecond.toFixed(0).padStart(7)}   taken apart and put together ${figures.plain.toFixed(0).padStart(7)}   ${figures.ratio.toFixed(2)} of it`,
  );
}

/** Broken files of the demo are no work for the baseline. */
function safely(file: Made): number {
  try {
    return plain(file);
  } catch {
    return 0;
  }
}

const folder = mkdtempSync(join(tmpdir(), 'lantern-bench-'));
let dryRun;
try {
  const all = [...made.values()].flat();
  const paths = Array.from({ length: ON_DISK }, (_unused, index) => {
    const file = all[index % all.length] as Made;
    const path = `${Math.floor(index / all.length)}/${file.name}`;
    mkdirSync(dirname(join(folder, path)), { recursive: true });
    writeFileSync(join(folder, path), file.bytes);
    return path;
  });
  const wanted = new Set(
    STARTER_LABELS.automatic.flatMap(({ content }) => content.map(({ pattern }) => String(pattern))),
  );
  const scanner = compileScanner(READY_PATTERNS.filter(({ id }) => wanted.has(id)));
  const rules = { rules: STARTER_LABELS.automatic, labels: STARTER_LABELS.labels, does: 'look' } as const;
  globalThis.gc?.();
  const before = process.memoryUsage().rss;
  let peak = before;
  let looked = 0;
  let readAlone = 0;
  for (const path of paths) {
    looked += await seconds(() =>
      runFile(
        { folder, path, placeName: 'Bench', owner: 'bench', sharedOutside: false, spent: [] },
        rules,
        scanner,
        AT,
      ),
    );
    readAlone += await seconds(async () =>
      readFile({ name: path, bytes: await readBytes(join(folder, path)) }),
    );
    peak = Math.max(peak, process.memoryUsage().rss);
  }
  dryRun = {
    files: ON_DISK,
    perSecond: ON_DISK / looked,
    readAlone: ON_DISK / readAlone,
    ratio: readAlone / looked,
    memoryMegabytes: (peak - before) / 1_048_576,
  };
  console.log(
    `\nlooking through ${ON_DISK} files on one thread: ${dryRun.perSecond.toFixed(0)} a second; reading alone ${dryRun.readAlone.toFixed(0)}; ${dryRun.ratio.toFixed(2)} of it; ${dryRun.memoryMegabytes.toFixed(0)} MB more at most`,
  );
} finally {
  rmSync(folder, { recursive: true, force: true });
}
console.log(JSON.stringify({ bench: 'labels', kinds, dryRun }));
