import type { ChooserView, LabelSuggestion } from '@lantern/contracts';
import type { Carrier } from '@lantern/core/labels';
import { useQuery } from '@tanstack/react-query';
import { change, get } from './client';
import { KEYS } from './keys';

const path = (player: string, carrier: Carrier): string =>
  `/stand-ins/labels/${encodeURIComponent(player)}/${carrier}`;

/** The labels that somebody can choose for what they write. */
export function useChooser(player: string, carrier: Carrier) {
  return useQuery({
    queryKey: [KEYS.desk, player, 'chooser', carrier],
    queryFn: () => get<ChooserView>(path(player, carrier)),
  });
}

/** What is being written, and what is chosen for it by now. */
export interface BeingWritten {
  readonly text: string;
  readonly label: string | null;
  readonly sharedOutside: boolean;
}

/** The label that a text calls for; nothing of it is kept. */
export function suggestLabel(
  player: string,
  carrier: Carrier,
  written: BeingWritten,
): Promise<{ suggestion: LabelSuggestion | null }> {
  return change('POST', `${path(player, carrier)}/suggestions`, written);
}
