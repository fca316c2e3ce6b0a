import type { LabelSuggestion } from '@lantern/contracts';
import type { Carrier } from '@lantern/core/labels';
import { useEffect, useState } from 'react';
import { type BeingWritten, suggestLabel } from '../data/labels-at-work';

/** How long somebody stops typing before the text is looked at. */
const PAUSE_MS = 700;
/** Shorter texts hold nothing that a rule could ask for. */
const SHORTEST = 8;

/** The label that a text calls for, looked for when the typing stops; null while it is unknown, or chosen already. */
export function useSuggestion(
  player: string,
  carrier: Carrier,
  { text, label, sharedOutside }: BeingWritten,
): LabelSuggestion | null {
  const [found, setFound] = useState<LabelSuggestion | null>(null);
  useEffect(() => {
    if (text.trim().length < SHORTEST) return setFound(null);
    let isLatest = true;
    const keep = (suggestion: LabelSuggestion | null) => isLatest && setFound(suggestion);
    const timer = setTimeout(() => {
      void suggestLabel(player, carrier, { text, label, sharedOutside }).then(
        ({ suggestion }) => keep(suggestion),
        () => keep(null),
      );
    }, PAUSE_MS);
    return () => {
      isLatest = false;
      clearTimeout(timer);
    };
  }, [player, carrier, text, label, sharedOutside]);
  return found && found.label !== label ? found : null;
}
