import type { ChooserView, HighestOfFiles } from '@lantern/contracts';

export interface FollowingWords {
  readonly words: string;
  /** The label that the person can take over with one press; null where nothing is left to do. */
  readonly take: string | null;
}

/** What follows for a mail from the highest label of its files; null where nothing does. */
export function followingOf(
  { follows, labels }: Pick<ChooserView, 'follows' | 'labels'>,
  chosen: string | null,
  highest: HighestOfFiles['label'],
): FollowingWords | null {
  if (!highest || follows === 'stands-alone') return null;
  const own = labels.find(({ id }) => id === chosen)?.rank ?? 0;
  if (own >= highest.rank) return null;
  if (follows === 'takes-highest')
    return { words: `The mail goes as “${highest.name}”, as its files do.`, take: null };
  const offered = labels.some(({ id }) => id === highest.id);
  return offered
    ? { words: `A file carries “${highest.name}”.`, take: highest.id }
    : { words: `A file carries “${highest.name}”, which you cannot choose for a mail.`, take: null };
}
