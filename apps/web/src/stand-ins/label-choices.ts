import type { ChooserView } from '@lantern/contracts';

/** The label something new has before anybody chose: none, unless one is preset. */
export function startingLabel({ starts }: Pick<ChooserView, 'starts'>): string | null {
  return starts.kind === 'preset' ? starts.label : null;
}

/** Whether a choice goes down the scale; a label that cannot be chosen counts by what is known of it, as higher. */
export function lowers(
  before: string | null,
  after: string | null,
  { labels }: Pick<ChooserView, 'labels'>,
): boolean {
  if (before === null || before === after) return false;
  if (after === null) return true;
  const rank = (id: string): number | undefined => labels.find((label) => label.id === id)?.rank;
  const [was, is] = [rank(before), rank(after)];
  return was === undefined || is === undefined || is <= was;
}
