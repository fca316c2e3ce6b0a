import type { DocumentDetail } from '@lantern/contracts';
import { clauseWords } from '../../wording/labels';
import { EFFECT_WORDS } from '../../wording/effects';

/** What this person may do with a document, to be read before anything is tried. */
export function Leaves({ document }: { readonly document: DocumentDetail }) {
  return (
    <details className="border-t border-rule pt-2 text-[12.5px]" open>
      <summary className="cursor-pointer font-semibold text-ink-2">What you may do with it</summary>
      <ul>
        {document.leaves.map(({ effect, allowed, clause }) => (
          <li key={effect} className="py-0.5">
            <b>{allowed ? 'You may ' : 'You may not '}</b>
            {EFFECT_WORDS[effect]}: {clauseWords(clause, document.owner.name)}.
          </li>
        ))}
      </ul>
    </details>
  );
}
